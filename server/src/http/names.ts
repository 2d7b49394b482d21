/** Names that people give. */
import { string } from 'yup';

export const nameOf = (what: string) =>
  string().trim().required(`Give the ${what} a name.`).max(200, 'A name has at most 200 characters.');
