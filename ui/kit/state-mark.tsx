const looks: Readonly<Record<string, readonly [glyph: string, colour: string]>> = {
  silent: ['◆', 'text-danger font-semibold'],
  late: ['▲', 'text-caution font-semibold'],
  new: ['○', 'text-second'],
  steady: ['●', 'text-well'],
  maintenance: ['‖', 'text-second'],
  retired: ['–', 'text-second'],
};

/** The state of a source or an emitter: a glyph and the word. */
export function StateMark({ state, reason }: { readonly state: string; readonly reason?: string }) {
  const [glyph, colour] = looks[state] ?? ['·', 'text-second'];
  return (
    <span className={`whitespace-nowrap ${colour}`} title={reason}>
      <span aria-hidden="true">{glyph}</span> {state}
    </span>
  );
}
