import { createRoot } from 'react-dom/client';
import { createBrowserRouter, RouterProvider } from 'react-router';
import { routes } from './desk.tsx';

/** Shows the desk in a page, and gives the router that it goes by. */
export function start(into: HTMLElement): ReturnType<typeof createBrowserRouter> {
  const router = createBrowserRouter(routes);
  createRoot(into).render(<RouterProvider router={router} />);
  return router;
}
