import '@fontsource-variable/atkinson-hyperlegible-next/index.css';
import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { StrictMode, Suspense, lazy } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router/dom';
import { enter } from './api/session.ts';
import { openRouter } from './routes.tsx';
import { theme } from './theme/theme.ts';

// Most are let in by the address that they open.
const ClosedDoor = lazy(() => import('./frame/ClosedDoor.tsx'));

const isLetIn = await enter();
// An address with a key that is pasted over that of an open page changes only what is behind the hash.
window.addEventListener('hashchange', () => {
  if (location.hash.startsWith('#key=')) location.reload();
});

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <ThemeProvider theme={theme} defaultMode="dark">
      <CssBaseline />
      <Suspense>{isLetIn ? <RouterProvider router={openRouter()} /> : <ClosedDoor />}</Suspense>
    </ThemeProvider>
  </StrictMode>,
);
