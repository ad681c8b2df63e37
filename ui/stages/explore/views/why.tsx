'use client';

import { parseCondition } from '#core/conditions/parse.ts';
import { Problem } from '../../../kit/section.tsx';
import { WhyBar } from '../why/why-bar.tsx';
import { WhyChart } from '../why/why-chart.tsx';
import { WhyPanel } from '../why/why-panel.tsx';
import { WhyRows } from '../why/why-rows.tsx';
import { WhySentence } from '../why/why-sentence.tsx';
import type { ExploreView, ViewState } from './view.ts';

/** Explains why a figure changed. */
export const whyView: ExploreView = {
  title: 'Why',
  action: 'Explain',
  hasWindow: true,
  Sentence: ({ why, asked }) => <WhySentence why={why} subject={subjectOf(asked.condition)} window={asked.window} />,
  Bar: ({ why }) => <WhyBar why={why} />,
  Answer: Explained,
  panel: ({ asked, why }) => {
    const row = why.answer?.rows[why.chosen];
    if (!row || !why.answer) return undefined;
    const onLines = (condition: string, since: number): void =>
      void asked.ask({ view: 'lines', c: condition, w: `${new Date(since).toISOString().slice(0, 16)}..` });
    return {
      open: why.isOpen,
      title: 'What you can do',
      onClose: () => why.setOpen(false),
      panel: <WhyPanel row={row} answer={why.answer} subject={subjectOf(asked.condition)} onLines={onLines} />,
    };
  },
};

function Explained({ why, asked }: ViewState) {
  const { answer, error, isAsking } = why;
  const problem = error?.details.problem;
  return (
    <div aria-busy={isAsking}>
      {error && (
        <Problem>
          {error.message}
          {problem && ` at character ${problem.start + 1}`}
        </Problem>
      )}
      {answer && <WhyChart answer={answer} condition={asked.condition} measure={why.measure} />}
      {answer && answer.verdict !== 'nothing' && (
        <WhyRows answer={answer} isAsking={isAsking} chosen={why.isOpen ? why.chosen : -1} onChoose={why.choose} />
      )}
    </div>
  );
}

/** The subject of a condition: its source, if that is all it names. */
function subjectOf(condition: string): string {
  if (condition.trim() === '') return 'everything';
  const { node } = parseCondition(condition);
  const source =
    node.kind === 'compare' && node.field === 'source' && node.operator === '=' ? node.value.text : undefined;
  return source ?? condition;
}
