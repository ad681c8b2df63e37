import { string } from 'yup';

/** The id of a shape. */
export const shapeId = string()
  .required()
  .matches(/^[0-9a-z]{5,10}$/, 'the id of a shape is ten lower-case letters and digits');
