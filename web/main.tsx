import '@fontsource-variable/atkinson-hyperlegible-next/index.css';
import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router/dom';
import { enter } from './api/session.ts';
import { ClosedDoor } from './frame/ClosedDoor.tsx';
import { openRouter } from './routes.tsx';
import { theme } from './theme/theme.ts';

const isLetIn = await enter();
// An address with a key that is pasted over that of an open page changes only what is behind the hash.
window.addEventListener('hashchange', () => {
  if (location.hash.startsWith('#key=')) location.reload();
});

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <ThemeProvider theme={theme} defaultMode="dark">
      <CssBaseline />
      {isLetIn ? <RouterProvider router={openRouter()} /> : <ClosedDoor />}
    </ThemeProvider>
  </StrictMode>,
);
