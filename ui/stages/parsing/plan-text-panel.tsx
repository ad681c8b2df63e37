'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import { ApiProblem, addressOf, call, showAnswer } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';

interface TextProblem {
  readonly line?: number;
  readonly column?: number;
  readonly path: string;
  readonly message: string;
}

/** The plan, or one pipeline, in and out as YAML. */
export function PlanTextPanel() {
  const [text, setText] = useState('');
  const [problems, setProblems] = useState<readonly TextProblem[]>([]);
  const take = async (): Promise<void> => {
    setProblems([]);
    try {
      const draft = await call('takePlanText', { text });
      await showAnswer('draft', draft);
      toast('Added to the draft.');
    } catch (error) {
      if (error instanceof ApiProblem) setProblems(error.details.problems ?? [{ path: '', message: error.message }]);
    }
  };
  return (
    <div className="flex flex-col gap-3">
      <p>
        <a href={addressOf('planText', {})} download className="font-semibold text-mark hover:underline">
          Export plan as YAML
        </a>
      </p>
      <p className="text-[12.5px] text-second">
        A whole plan replaces the draft; a text that begins with <code className="line">pipeline:</code> adds or
        replaces that one. The same check runs on a file with{' '}
        <code className="line">npm run otter -- plan check FILE</code>.
      </p>
      <label>
        <span className="block text-[12.5px] font-semibold text-second">YAML</span>
        <textarea
          value={text}
          onChange={(event) => setText(event.target.value)}
          className="line mt-1 h-64 w-full rounded-[5px] border border-hair bg-sheet p-2"
        />
      </label>
      <label className="cursor-pointer font-semibold text-mark hover:underline">
        or from a file
        <input
          type="file"
          accept=".yaml,.yml,.json"
          className="sr-only"
          onChange={(event) => void event.target.files?.[0]?.text().then(setText)}
        />
      </label>
      <ul className="text-danger">
        {problems.map((problem) => (
          <li key={problem.path + problem.message}>
            ◆ {problem.line !== undefined && `line ${problem.line}, column ${problem.column}: `}
            {problem.path} {problem.message}
          </li>
        ))}
      </ul>
      <div>
        <Button look="main" disabled={text.trim() === ''} onClick={() => void take()}>
          Add to draft
        </Button>
      </div>
    </div>
  );
}
