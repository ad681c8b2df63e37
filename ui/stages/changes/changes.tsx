'use client';

import { useQueryState } from 'nuqs';
import { useQuestion } from '../../data/client.ts';
import { useDraft } from '../../data/draft.ts';
import { Button } from '../../kit/button.tsx';
import { Figure, FigurePending, Mark } from '../../kit/figure.tsx';
import { WithPanel } from '../../kit/panel.tsx';
import { Nothing, Section } from '../../kit/section.tsx';
import { Sentence } from '../../kit/sentence.tsx';
import { ChangesStill } from '../../kit/still-pictures.tsx';
import { dayAndMinute } from '../../kit/times/times.ts';
import { useRehearsal } from '../../parts/use-rehearsal.ts';
import { AboutToGo } from './about-to-go.tsx';
import { ChangeList } from './change-list.tsx';
import { Discarded } from './discarded.tsx';
import { RehearsalResult } from './rehearsal-result.tsx';
import { RehearseAgain } from './rehearse-again.tsx';
import { Revision } from './revision.tsx';
import { Surge } from './surge.tsx';

/** What did we change, and did it do what we said? */
export function Changes() {
  const { draft, plan, live } = useDraft();
  const { busy, run } = useRehearsal();
  const { data } = useQuestion('revisions', {}, 15_000);
  const [panel, setPanel] = useQueryState('rehearsal');
  const [latest] = data?.revisions ?? [];
  const rehearsal = draft?.rehearsal;
  return (
    <WithPanel
      open={panel !== null && Boolean(rehearsal)}
      title="Rehearsal"
      onClose={() => void setPanel(null)}
      panel={
        rehearsal &&
        plan && (
          <>
            <RehearseAgain rehearsal={rehearsal} run={run} busy={busy} />
            <RehearsalResult rehearsal={rehearsal} plan={plan} live={live} leaving={draft.leaving} />
            <Surge
              rehearsal={rehearsal}
              draft={plan}
              onRehearse={(surge) => run(rehearsal.span > 1 ? `${rehearsal.span}d` : undefined, surge)}
            />
          </>
        )
      }
    >
      <Sentence>
        {latest ? (
          <>
            Revision{' '}
            <Figure name="revision" over="now" unit="number" value={latest.number}>
              {latest.number}
            </Figure>{' '}
            has been live since <Mark>{dayAndMinute(latest.publishedAt)}</Mark>;{' '}
            {draft ? (
              <>
                the draft changes{' '}
                <Figure name="changes of the draft" over="now" unit="changes" value={draft.changes.length} needs>
                  {draft.changes.length === 1 ? 'one thing' : `${draft.changes.length} things`}
                </Figure>
                .
              </>
            ) : (
              'there is no draft.'
            )}
          </>
        ) : (
          <>
            Revision <FigurePending /> is live.
          </>
        )}
      </Sentence>
      <Section
        title="Draft"
        className="mt-4"
        aside={
          rehearsal &&
          panel === null && (
            <Button look="quiet" onClick={() => void setPanel('1')}>
              Show rehearsal
            </Button>
          )
        }
      >
        {!draft && (
          <Nothing title="There is no draft." picture={<ChangesStill />}>
            Edit a pipeline or a tier to start one. Its changes are listed here until you publish them.
          </Nothing>
        )}
        {draft && <ChangeList changes={draft.changes} />}
        {draft?.problems.map((problem) => (
          <p key={problem.path + problem.message} className="text-danger">
            ◆ <code className="line">{problem.path}</code> {problem.message}
          </p>
        ))}
      </Section>
      <Discarded />
      <AboutToGo />
      <Section title="Revisions" className="mt-6">
        <ol>
          {data?.revisions.map((revision, index) => (
            <Revision
              key={revision.number}
              revision={revision}
              live={index === 0}
              currency={data.currency}
              plan={live}
            />
          ))}
        </ol>
      </Section>
    </WithPanel>
  );
}
