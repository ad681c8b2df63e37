/** The shape of a saved search: a form checks it as the API does. */
export { savedSearch } from '#core/operations/requests/search.ts';
