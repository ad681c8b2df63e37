/** Shapes of what forms send about the plan: they are checked as the API checks them. */
export { surgeShape } from '#core/operations/requests/surge.ts';
