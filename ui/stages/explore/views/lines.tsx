'use client';

import { ExploreSentence } from '../explore-sentence.tsx';
import { Faults } from '../faults.tsx';
import { FoundLines } from '../lines/found-lines.tsx';
import { WhyEmpty } from '../lines/why-empty.tsx';
import { Reading } from '../reading.tsx';
import { isEmpty } from '../use-search.ts';
import type { ExploreView } from './view.ts';

/** The found events, one a line. */
export const linesView: ExploreView = {
  title: 'Lines',
  action: 'Search',
  hasWindow: true,
  Sentence: ({ search, asked }) => <ExploreSentence search={search} window={asked.window} />,
  Bar: Reading,
  Answer: ({ asked, search }) => (
    <>
      <Faults search={search} />
      {isEmpty(search) && asked.around === null && <WhyEmpty search={search} />}
      <FoundLines asked={asked} search={search} />
    </>
  ),
};
