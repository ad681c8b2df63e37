let done = 0;

/** Says which piece of work of this thread it is. */
export default function work({ name }) {
  return `${++done} ${name}`;
}
