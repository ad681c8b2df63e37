import { number, object, string } from 'yup';
import { suggestionDecisions } from '../usage/decision.ts';
import { operation } from './operation.ts';

export const suggestions = operation({
  method: 'GET',
  path: '/api/suggestions',
  summary:
    'Suggested savings: shapes that nobody looks for, because a metric counts them all or because nothing reads them; for the draft, or the live plan without one.',
  failure: 'The suggestions could not be loaded',
  permission: 'see',
  input: object(),
});

export const decideSuggestion = operation({
  method: 'PUT',
  path: '/api/suggestions/{id}',
  summary:
    'Puts a suggestion off for some days, refuses it with a reason, follows up one that was added to the draft, or reopens it.',
  failure: 'The decision was not saved',
  permission: 'design',
  input: object({
    /** The id of a shape, or of a change, such as `retention:rest`. */
    id: string()
      .required()
      .max(100)
      .matches(/^([0-9a-z]{5,10}|[a-z]+:.+)$/, 'the id of a shape or of a change'),
    decision: string().oneOf(suggestionDecisions).required(),
    /** For how many days it is put off. */
    days: number().integer().min(1).max(365).default(30),
    /** Needed to refuse it. */
    reason: string()
      .trim()
      .max(500)
      .default('')
      .when('decision', ([decision], text) =>
        decision === 'refuse' ? text.required('a refusal needs a reason') : text,
      ),
  }),
});
