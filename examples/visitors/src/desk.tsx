import AppBar from '@mui/material/AppBar';
import Button from '@mui/material/Button';
import Container from '@mui/material/Container';
import CssBaseline from '@mui/material/CssBaseline';
import { createTheme, ThemeProvider } from '@mui/material/styles';
import Toolbar from '@mui/material/Toolbar';
import Typography from '@mui/material/Typography';
import { NavLink, Outlet, type RouteObject } from 'react-router';
import { NightList } from './night-list.tsx';
import { NightPage } from './night-page.tsx';
import { StarPage } from './star-page.tsx';
import { WayPage } from './way-page.tsx';

const theme = createTheme({ colorSchemes: { light: true, dark: true }, cssVariables: true });

/** The desk around its pages: where one is, and where one can go. */
function Desk() {
  return (
    <ThemeProvider theme={theme} defaultMode="system">
      <CssBaseline />
      <AppBar position="static" component="header">
        <Toolbar component="nav" aria-label="Pages" sx={{ gap: 1, flexWrap: 'wrap', paddingY: 1 }}>
          <Typography variant="h6" component="span" sx={{ flexGrow: 1 }}>
            Visitors’ desk
          </Typography>
          {pages.map(({ path, label }) => (
            <Button
              key={path}
              color="inherit"
              component={NavLink}
              to={path}
              end={path === '/'}
              sx={{ '&.active': { textDecoration: 'underline', textUnderlineOffset: 6 } }}
            >
              {label}
            </Button>
          ))}
        </Toolbar>
      </AppBar>
      <Container component="main" maxWidth="md" sx={{ paddingY: 3 }}>
        <Outlet />
      </Container>
    </ThemeProvider>
  );
}

const pages = [
  { path: '/', label: 'Nights' },
  { path: '/stars', label: 'Stars' },
  { path: '/way', label: 'Way here' },
];

export const routes: RouteObject[] = [
  {
    path: '/',
    element: <Desk />,
    children: [
      { index: true, element: <NightList /> },
      { path: 'nights/:id', element: <NightPage /> },
      { path: 'stars', element: <StarPage /> },
      { path: 'way', element: <WayPage /> },
    ],
  },
];
