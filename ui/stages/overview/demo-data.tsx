'use client';

import { useState } from 'react';
import type { DemoAnswer } from '../../data/answers.ts';
import { call, refresh, useQuestion } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { Dialog } from '../../kit/dialog.tsx';
import { Problem } from '../../kit/section.tsx';
import { percent } from '../../kit/times/times.ts';

/** How often the state is read (milliseconds): often while the data is being loaded or removed. */
const often = 2_000;
const seldom = 30_000;

/** The state of the demo data, kept up to date. */
function useDemo(): DemoAnswer | undefined {
  const [every, setEvery] = useState(seldom);
  const { data } = useQuestion('demo', {}, every);
  const wanted = data?.state === 'loading' || data?.state === 'leaving' ? often : seldom;
  if (wanted !== every) setEvery(wanted);
  return data;
}

/** The button that loads the demo data, or why it cannot be loaded. */
export function LoadDemo() {
  const demo = useDemo();
  const [failed, setFailed] = useState('');
  if (!demo) return null;
  const load = async (): Promise<void> => {
    try {
      await call('loadDemo', {});
      await refresh('demo');
    } catch (error) {
      setFailed(error instanceof Error ? error.message : 'The demo data could not be loaded.');
    }
  };
  if (demo.state !== 'absent') return <p className="text-[12.5px]">{stateInWords(demo)}</p>;
  if (demo.obstacle !== '') return <p className="text-[12.5px]">Not possible here: {demo.obstacle}</p>;
  return (
    <>
      <Button onClick={() => void load()}>Load the demo data</Button>
      {failed !== '' && <Problem>{failed}</Problem>}
    </>
  );
}

/** Shown while the installation has demo data: how much is loaded, and the button that removes it. */
export function DemoStrip() {
  const demo = useDemo();
  const [asking, setAsking] = useState(false);
  const [failed, setFailed] = useState('');
  if (!demo || demo.state === 'absent') return null;
  const remove = async (): Promise<void> => {
    try {
      await call('removeDemo', {});
      setAsking(false);
      await refresh('demo');
    } catch (error) {
      setFailed(error instanceof Error ? error.message : 'The demo data could not be removed.');
    }
  };
  return (
    <div role="status" className="mt-2 flex items-center gap-3 text-[12.5px] text-second">
      {stateInWords(demo)}
      {demo.problem !== '' && <span className="text-danger">{demo.problem}</span>}
      {demo.state !== 'leaving' && (
        <Button look="quiet" className="py-0!" onClick={() => setAsking(true)}>
          Remove demo data …
        </Button>
      )}
      <Dialog open={asking} title="Remove demo data" onClose={() => setAsking(false)}>
        <p>
          The demo’s sources are removed with all their events and figures, and so are its fleets, its prices and its
          part of the plan.
        </p>
        <p className="mt-2 text-second">
          Your own sources and what you changed in the plan stay. The revisions and the audit still show what was done.
        </p>
        {failed !== '' && <Problem>{failed}</Problem>}
        <div className="mt-4 flex justify-end gap-3">
          <Button onClick={() => setAsking(false)}>Cancel</Button>
          <Button look="danger" onClick={() => void remove()}>
            Remove demo data
          </Button>
        </div>
      </Dialog>
    </div>
  );
}

function stateInWords({ state, share }: DemoAnswer): string {
  if (state === 'loading') return `The demo data is being loaded: ${percent(share)}.`;
  if (state === 'leaving') return 'The demo data is being removed.';
  return 'The events of the Skerry Line are demo data.';
}
