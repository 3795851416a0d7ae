import CssBaseline from '@mui/material/CssBaseline';
import { createTheme, ThemeProvider } from '@mui/material/styles';
import type { ReactNode } from 'react';
import './page.css';

const theme = createTheme({
  cssVariables: true,
  colorSchemes: {
    light: { palette: { primary: { main: '#2456a6' }, background: { default: '#ffffff' } } },
    dark: {
      palette: {
        primary: { main: '#9dbdf5' },
        background: { default: '#12161c', paper: '#12161c' },
      },
    },
  },
  typography: { fontFamily: 'system-ui, sans-serif', fontSize: 13, body1: { fontSize: 13 } },
  components: {
    MuiTab: { styleOverrides: { root: { textTransform: 'none' } } },
    MuiButton: { styleOverrides: { root: { textTransform: 'none' } } },
  },
});

/** Colours and type of a page, light or dark as the system is. */
export function PageTheme({ children }: { readonly children: ReactNode }) {
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      {children}
    </ThemeProvider>
  );
}
