import '@fontsource-variable/atkinson-hyperlegible-next/index.css';
import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, redirect } from 'react-router';
import { RouterProvider } from 'react-router/dom';
import { enter } from './api/session.ts';
import { ClosedDoor } from './frame/ClosedDoor.tsx';
import { Frame } from './frame/Frame.tsx';
import { PLACES } from './places/registry.ts';
import { theme } from './theme/theme.ts';

const router = createBrowserRouter([
  {
    element: <Frame />,
    HydrateFallback: () => null,
    children: [
      { index: true, loader: () => redirect('/measure') },
      ...PLACES.flatMap((place) =>
        ['', ...(place.below ?? [])].map((below) => ({
          path: `${place.id}/${below}`,
          loader: () => place,
          lazy: place.load,
        })),
      ),
      { path: '*', loader: () => null, lazy: () => import('./places/later/LaterPlace.tsx') },
    ],
  },
]);

const isLetIn = await enter();
// An address with a key that is pasted over that of an open page changes only what is behind the hash.
window.addEventListener('hashchange', () => {
  if (location.hash.startsWith('#key=')) location.reload();
});

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <ThemeProvider theme={theme} defaultMode="dark">
      <CssBaseline />
      {isLetIn ? <RouterProvider router={router} /> : <ClosedDoor />}
    </ThemeProvider>
  </StrictMode>,
);
