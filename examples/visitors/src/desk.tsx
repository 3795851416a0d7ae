import AppBar from '@mui/material/AppBar';
import Button from '@mui/material/Button';
import Container from '@mui/material/Container';
import CssBaseline from '@mui/material/CssBaseline';
import Stack from '@mui/material/Stack';
import { createTheme, ThemeProvider } from '@mui/material/styles';
import Toolbar from '@mui/material/Toolbar';
import Typography from '@mui/material/Typography';
import { Link, NavLink, Outlet, type RouteObject, useLocation } from 'react-router';
import { NightList } from './night-list.tsx';
import { NightPage } from './night-page.tsx';
import { StarPage } from './star-page.tsx';
import { WayPage } from './way-page.tsx';

/** A night sky and the lamp of a desk. */
const theme = createTheme({
  cssVariables: true,
  colorSchemes: {
    light: {
      palette: {
        primary: { main: '#2b2f6b' },
        secondary: { main: '#8a5a00' },
        background: { default: '#faf7f0', paper: '#ffffff' },
      },
    },
    dark: {
      palette: {
        primary: { main: '#ffcf70', contrastText: '#1a1530' },
        secondary: { main: '#b9b4ff' },
        background: { default: '#0d1026', paper: '#171b38' },
      },
    },
  },
  shape: { borderRadius: 10 },
  typography: {
    fontFamily: 'Georgia, "Liberation Serif", serif',
    button: { textTransform: 'none', fontWeight: 600 },
  },
});

/** The page for an unknown address. */
function Nowhere() {
  const { pathname } = useLocation();
  return (
    <Stack spacing={2} sx={{ alignItems: 'flex-start' }}>
      <Typography variant="h4" component="h1">
        There is nothing here
      </Typography>
      <Typography>The desk has no page {pathname}.</Typography>
      <Button variant="contained" component={Link} to="/">
        All nights
      </Button>
    </Stack>
  );
}

/** The desk around its pages: where one is, and where one can go. */
function Desk() {
  return (
    <ThemeProvider theme={theme} defaultMode="system">
      <CssBaseline />
      <AppBar
        position="static"
        component="header"
        elevation={0}
        sx={{ background: 'linear-gradient(100deg, #171b45, #3b2f6b)', color: '#fff6df' }}
      >
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
      { path: '*', element: <Nowhere /> },
    ],
  },
];
