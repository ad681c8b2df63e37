import { string } from 'yup';
import { longest } from './limits.ts';

/** The id of a thing of the plan. */
export const idShape = string()
  .matches(/^[a-z0-9][a-z0-9-]{0,62}$/, 'an id is made of small letters, digits and dashes')
  .required();

/** What people call a thing. */
export const titleShape = string().required().max(longest.title);
