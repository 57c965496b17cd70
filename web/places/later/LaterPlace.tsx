import { useMatches } from 'react-router';
import { PlaceLayout } from '../../frame/PlaceLayout.tsx';
import { EmptyPlace } from '../../kit/words.tsx';
import type { Place } from '../place.ts';

/** What a place will do that is not built yet; and an address at which there is none. */
export function Component() {
  const place = useMatches().at(-1)?.handle as Place | undefined;
  return (
    <PlaceLayout>
      <EmptyPlace title={place ? `${place.name} is not built yet` : 'There is nothing here'}>
        {place?.purpose ?? 'Choose a place on the left.'}
      </EmptyPlace>
    </PlaceLayout>
  );
}
