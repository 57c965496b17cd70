import { lazy } from 'react';
import type { Item } from '#core/3-jobs/demand/items.ts';
import { footageFacts } from './footage-facts.tsx';
import type { ItemView } from './item-view.ts';
import { LoadFacts } from './LoadFacts.tsx';
import { SeriesFacts } from './SeriesFacts.tsx';

const FootageSheet = lazy(() => import('../ItemSheet.tsx'));
const SeriesSheet = lazy(() => import('./SeriesSheet.tsx'));
const LoadSheet = lazy(() => import('./LoadSheet.tsx'));
const SeriesOfDrives = lazy(() => import('./SeriesOfDrives.tsx'));
const LoadOfDrives = lazy(() => import('./LoadOfDrives.tsx'));

/** What shows and edits each kind of core/3-jobs/demand/items.ts; a new one is its files and a line here. */
const VIEWS: { [Kind in Item['kind']]: ItemView<Extract<Item, { kind: Kind }>> } = {
  footage: {
    picture: null,
    facts: ({ item }) => footageFacts(item),
    sheet: (props) => <FootageSheet {...props} />,
    addText: 'Footage',
  },
  series: {
    picture: (props) => <SeriesOfDrives {...props} />,
    facts: (props) => <SeriesFacts {...props} />,
    sheet: (props) => <SeriesSheet {...props} />,
    addText: 'Cache series',
  },
  load: {
    picture: (props) => <LoadOfDrives {...props} />,
    facts: (props) => <LoadFacts {...props} />,
    sheet: (props) => <LoadSheet {...props} />,
    addText: 'Load',
  },
};

// A view is only ever given items of its own kind.
export const itemViewOf = (kind: Item['kind']): ItemView<Item> => VIEWS[kind] as unknown as ItemView<Item>;
export const ADDABLE = Object.entries(VIEWS).map(([kind, { addText }]) => ({ kind: kind as Item['kind'], addText }));
