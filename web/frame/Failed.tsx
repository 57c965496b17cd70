import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { Link, useLocation, useRouteError } from 'react-router';
import { Problem } from '#core/1-ground/problem.ts';
import { EmptyPlace } from '../kit/words.tsx';
import { PLACES } from '../places/registry.ts';
import { placePath } from '../places/place.ts';
import { PlaceLayout } from './PlaceLayout.tsx';

/** What browsers say of a part of the page that the server did not give them. */
const NOT_LOADED = /dynamically imported module|module script failed/;

/** What failed, in words: its heading and a sentence. */
function whatFailed(error: unknown): { title: string; words: string } {
  if (error instanceof Problem)
    return {
      title:
        error.status === 404
          ? 'It is not here'
          : error.code === 'server-gone'
            ? 'The server does not answer'
            : 'This could not be loaded',
      words: error.detail,
    };
  const { message } = error as Error;
  if (NOT_LOADED.test(message))
    return {
      title: 'This place could not be loaded',
      words: 'The server does not answer, or Tavrox was updated meanwhile. Load the page again.',
    };
  return {
    title: 'This place failed',
    words: `Something is wrong in the page itself: ${message}. What is kept is untouched, and runs go on.`,
  };
}

/**
 * Instead of a place that cannot be shown; the rail and the strip stay.
 * @param failure what it failed on, where the router does not tell
 */
export function FailedPlace({ failure }: { failure?: unknown }) {
  const thrown = useRouteError();
  const error = failure ?? thrown;
  const { pathname } = useLocation();
  const { title, words } = whatFailed(error);
  const place = PLACES.find(({ id }) => pathname.split('/')[1] === id);
  const isGone = error instanceof Problem && error.status === 404;
  return (
    <PlaceLayout>
      <EmptyPlace
        title={title}
        action={
          isGone && place ? (
            <Button variant="contained" component={Link} to={placePath(place)}>
              Go to {place.name}
            </Button>
          ) : (
            <Button variant="contained" onClick={() => location.reload()}>
              Load the page again
            </Button>
          )
        }
      >
        {words}
      </EmptyPlace>
    </PlaceLayout>
  );
}

/** Instead of everything, where not even the lists could be read. */
export function FailedPage() {
  return (
    <Box sx={{ display: 'flex', height: '100%' }}>
      <FailedPlace />
    </Box>
  );
}
