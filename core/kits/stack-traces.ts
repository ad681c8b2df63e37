import { stackTraceRule } from '../formats/join.ts';
import { fits } from '../templates/learn.ts';
import { entryOf, type StarterKit } from './kit.ts';

const head = '{at:iso} {level} {logger} - {message:rest}';

/** Lines with stack traces behind them. */
export const stackTraces: StarterKit = {
  id: 'stack-traces',
  title: 'Multi-line stack traces',
  help: 'Joins the lines of a stack trace to the line before them, and takes time, severity and logger out of the first line. For followed files set the same rule on the source, where lines are joined before they are sent on.',
  fits: (line) => fits(head, line) || /^\s+at |^Caused by:|^Traceback /.test(line),
  pipeline: (source) => ({
    ...entryOf('stack-traces', source),
    title: `Stack traces of ${source}`,
    steps: [
      { 'join-lines': { continues: stackTraceRule.continues } },
      { extract: { from: 'body', template: head } },
      { 'set-time': { from: 'at' }, when: 'has at' },
      { 'set-severity': { from: 'level' }, when: 'has level' },
    ],
    tests: [
      {
        name: 'an error with its trace',
        input: '2026-01-15T11:59:02Z ERROR berth.Planner - berth is taken\n  at assign (planner:14)',
        expect: { severity: 'error', logger: 'berth.Planner', time: '2026-01-15T11:59:02.000Z' },
      },
    ],
  }),
};
