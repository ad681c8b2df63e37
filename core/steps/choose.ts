import { array, object, string } from 'yup';
import type { StepBranch, StepKind } from './step.ts';
import { stepShape } from './step-document.ts';

type Steps = readonly Readonly<Record<string, unknown>>[];

export interface ChooseOptions {
  readonly branches: { readonly when: string; readonly steps: Steps }[];
  /** For events that fit none of the branches. */
  readonly otherwise?: Steps | undefined;
}

const steps = array(stepShape.required()).max(50);

/** Sends events through different steps: the first branch that an event fits. */
export const choose: StepKind<ChooseOptions> = {
  kind: 'choose',
  title: 'Choose',
  help: 'Sends each event through the steps of the first branch whose condition it fits, or through those for all others. Each step inside has its own guard and its own answer to an event it cannot handle.',
  schema: object({
    branches: array(object({ when: string().required(), steps: steps.required() }).noUnknown())
      .min(1)
      .max(20)
      .required(),
    otherwise: steps,
  }).noUnknown(),
  describe: ({ branches, otherwise }) =>
    `choose by ${branches.map(({ when }) => when).join(', or ')}${otherwise?.length ? ', or else' : ''}`,
  makes: () => [],
  reads: () => [],
  example: {
    options: {
      branches: [{ when: 'kind = gate', steps: [{ rename: { from: 'n', to: 'gate' } }] }],
      otherwise: [{ remove: { fields: ['n'] } }],
    },
    input: '{"kind":"gate","n":7}',
    expect: { gate: 7, n: null },
  },
  compile: () => (batch) => ({ batch }),
  branches: ({ branches, otherwise }) => [
    ...branches.map(
      ({ when, steps: inner }, index): StepBranch => ({ path: `branches[${index}].steps`, when, steps: inner }),
    ),
    ...(otherwise ? [{ path: 'otherwise', steps: otherwise }] : []),
  ],
};
