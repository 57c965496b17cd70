import { createBrowserRouter, redirect, type RouteObject } from 'react-router';
import { FailedPage, FailedPlace } from './frame/Failed.tsx';
import { Frame } from './frame/Frame.tsx';
import type { Load } from './places/place.ts';
import { PLACES } from './places/registry.ts';
import { ensureLists } from './state/library.ts';

/** A place that cannot be fetched says so itself: to the router a place without a page is an empty one. */
const fetched = (load: Load) => () =>
  load().catch((failure: unknown) => ({ Component: () => <FailedPlace failure={failure} /> }));

/** All addresses: each place at its own and at those below it. What fails to load has a page that says so. */
const ROUTES: RouteObject[] = [
  {
    element: <Frame />,
    loader: ensureLists,
    shouldRevalidate: () => false,
    errorElement: <FailedPage />,
    HydrateFallback: () => null,
    children: [
      { index: true, loader: () => redirect('/measure') },
      ...PLACES.flatMap((place) =>
        ['', ...(place.below ?? [])].map((below) => ({
          path: `${place.id}/${below}`,
          handle: place,
          errorElement: <FailedPlace />,
          lazy: fetched(place.load),
        })),
      ),
      { path: '*', lazy: fetched(() => import('./places/nothing/NothingHere.tsx')) },
    ],
  },
];

/** Begins to load what the address needs: not before this browser was let in. */
export const openRouter = () => createBrowserRouter(ROUTES);
