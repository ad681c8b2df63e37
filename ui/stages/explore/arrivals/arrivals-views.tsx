'use client';

import { useEffect, useState } from 'react';
import { formatCount } from '#core/events/units.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';
import { useDraft } from '../../../data/draft.ts';
import { useKnownFields } from '../../../data/known-fields.ts';
import { ConditionEditor } from '../../../editors/condition-editor.tsx';
import { Button } from '../../../kit/button.tsx';
import { Problem } from '../../../kit/section.tsx';
import { useRoom } from '../../../kit/use-room.ts';
import type { FeedLine } from './feed.ts';
import type { FeedStore } from './feed-store.ts';
import { FeedView } from './feed-view.tsx';
import { Marks } from './marks.tsx';
import { useFeedState } from './use-arrivals.ts';
import { useComparedConditions } from './use-compared-conditions.ts';

/** Least height of a view, and what of the window stands around it (pixels). */
const least = 420;
const around = 350;

/** Up to three views of what comes in, side by side, with marks over all of them. */
export function ArrivalsViews(props: {
  readonly store: FeedStore;
  readonly condition: string;
  readonly onHour: (condition: string) => void;
  readonly onOpen: (line: FeedLine) => void;
}) {
  const { store, condition, onHour, onOpen } = props;
  const { live } = useDraft();
  const { others, marks, setOthers, setMarks } = useComparedConditions();
  const fields = useKnownFields();
  const conditions = [condition, ...others];
  const height = useRoom(around + (others.length > 0 ? 46 : 0), least);
  const { failed, lookedAtOneIn } = useFeedState(store);
  return (
    <>
      <div className="mb-2 flex flex-wrap items-center justify-between gap-x-4 gap-y-1">
        <Marks marks={marks} onChange={setMarks} />
        <span className="flex items-center">
          <Button look="quiet" className="text-[12.5px]" onClick={() => onHour(condition)}>
            Search the last hour
          </Button>
          {others.length < 2 && (
            <Button look="quiet" className="-mr-3 text-[12.5px]" onClick={() => setOthers([...others, ''])}>
              Add view
            </Button>
          )}
        </span>
      </div>
      {failed && <Problem>{failed}</Problem>}
      {lookedAtOneIn > 1 && (
        <p className="mb-1 text-[12.5px] text-second">
          Volume is high: one in {formatCount(lookedAtOneIn)} events is examined, so as not to slow the intake; counts
          are estimates.
        </p>
      )}
      <div className="flex gap-5">
        {conditions.map((one, i) => {
          const key = `view ${i}`;
          return (
            <div key={key} className="min-w-0 flex-1">
              {others.length > 0 && (
                <div className="mb-1 flex min-h-[38px] items-start gap-1">
                  {i === 0 ? (
                    <p className="line flex-1 truncate py-2 text-second">{condition || 'every event'}</p>
                  ) : (
                    <Beside
                      condition={one}
                      fields={fields}
                      onChange={(text) => setOthers(others.map((other, k) => (k === i - 1 ? text : other)))}
                      onClose={() => setOthers(others.filter((_, k) => k !== i - 1))}
                    />
                  )}
                </div>
              )}
              <FeedView
                store={store}
                view={i}
                name={one || 'every event'}
                height={height}
                isAlone={others.length === 0}
                marks={marks}
                plan={live}
                onOpen={onOpen}
              />
            </div>
          );
        })}
      </div>
    </>
  );
}

/** The condition of a view that is beside the first one; it counts once it is confirmed. */
function Beside(props: {
  readonly condition: string;
  readonly fields: readonly FieldSummary[];
  readonly onChange: (condition: string) => void;
  readonly onClose: () => void;
}) {
  const { condition, fields, onChange, onClose } = props;
  const [typed, setTyped] = useState(condition);
  useEffect(() => setTyped(condition), [condition]);
  return (
    <>
      <div className="min-w-0 flex-1">
        <ConditionEditor
          isSearch
          label="Which events stand beside"
          value={typed}
          fields={fields}
          onChange={setTyped}
          onRun={() => onChange(typed)}
        />
      </div>
      <Button look="quiet" aria-label="Remove view" onClick={onClose}>
        ×
      </Button>
    </>
  );
}
