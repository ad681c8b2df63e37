/** Shapes of what forms send about sources: they are checked as the API checks them. */
export { conditionShape } from '#core/operations/requests/source-settings.ts';
export { maintenance, nameShape } from '#core/operations/requests/sources.ts';
