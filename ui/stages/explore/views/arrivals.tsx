'use client';

import { ArrivalsSentence } from '../arrivals/arrivals-sentence.tsx';
import { ArrivalsViews } from '../arrivals/arrivals-views.tsx';
import { ArrivedPanel } from '../arrivals/arrived-panel.tsx';
import type { ExploreView } from './view.ts';

/** Events as they arrive, before they are stored. */
export const arrivalsView: ExploreView = {
  title: 'Arrivals',
  action: 'Watch',
  hasWindow: false,
  Sentence: ({ arrivals, asked }) => <ArrivalsSentence store={arrivals} condition={asked.condition} />,
  Answer: ({ arrivals, asked, setArrived }) => (
    <ArrivalsViews
      store={arrivals}
      condition={asked.condition}
      onHour={() => void asked.ask({ view: 'lines', w: '-1h' })}
      onOpen={setArrived}
    />
  ),
  panel: ({ arrived, setArrived }) =>
    arrived && {
      open: true,
      title: 'Arrived event',
      onClose: () => setArrived(undefined),
      panel: <ArrivedPanel key={arrived.key} line={arrived} />,
    },
};
