import { PlaceLayout } from '../../frame/PlaceLayout.tsx';
import { EmptyPlace } from '../../kit/words.tsx';

/** An address at which there is no place. */
export function Component() {
  return (
    <PlaceLayout>
      <EmptyPlace title="There is nothing here">Choose a place on the left.</EmptyPlace>
    </PlaceLayout>
  );
}
