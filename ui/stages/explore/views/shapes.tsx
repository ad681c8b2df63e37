'use client';

import { MeasureChoice, ShapeList } from '../shapes/shape-list.tsx';
import { ShapePanel } from '../shapes/shape-panel.tsx';
import { ShapesSentence } from '../shapes/shapes-sentence.tsx';
import type { ExploreView } from './view.ts';

/** The kinds of lines that there are. */
export const shapesView: ExploreView = {
  title: 'Shapes',
  action: 'Search',
  hasWindow: true,
  Sentence: ({ shapes }) => <ShapesSentence {...shapes} />,
  Bar: ({ shapes }) => <MeasureChoice shapes={shapes} />,
  Answer: ({ shapes, asked }) => (
    <ShapeList shapes={shapes} open={asked.shape} onOpen={(id) => asked.openShape(id === asked.shape ? null : id)} />
  ),
  panel: ({ asked, shapes }) => {
    const { shape } = asked;
    if (shape === null) return undefined;
    const onLines = (of: string): void => {
      void asked.place({ shape: null });
      void asked.ask({ view: 'lines', c: of });
    };
    return {
      open: true,
      title: 'Shape',
      onClose: () => asked.openShape(null),
      panel: <ShapePanel key={shape} id={shape} asked={shapes.asked} onLines={onLines} />,
    };
  },
};
