import { useLocation } from 'react-router';
import { PLACES } from '../../frame/places.ts';
import { PlaceLayout } from '../../frame/PlaceLayout.tsx';
import { EmptyPlace } from '../../kit/words.tsx';

/** What the places that are not built yet will do. */
const PURPOSES: Record<string, string> = {
  drives:
    'Cards of your drives will be here: what each is, on which connection, what its runs say of it, and several of them side by side, cold and hot, empty and full.',
  copies:
    'Copies between your volumes will be predicted and measured here, in both directions, hop by hop, with the early estimate beside the true one.',
  sizing:
    'Storage for a whole job will be sized here: terabytes over the days, layouts, links, endurance and cost, and the build that fits them all.',
  report:
    'A page for a producer or a colleague will be made here: what was measured, under which conditions, and what it means for the job.',
};

export function Component() {
  const { pathname } = useLocation();
  const place = PLACES.find((one) => pathname.startsWith(one.path));
  return (
    <PlaceLayout>
      <EmptyPlace title={place ? `${place.name} is not built yet` : 'There is nothing here'}>
        {place ? PURPOSES[place.id] : 'Choose a place on the left.'}
      </EmptyPlace>
    </PlaceLayout>
  );
}
