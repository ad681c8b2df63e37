import { Choice } from './choice.tsx';

/** How much of some events is kept. */
export type ShareMode = 'none' | 'sample' | 'all';

/** The mode of a share that keeps one in `oneIn` events (0 none, 1 all). */
export function modeOf(oneIn: number): ShareMode {
  return oneIn === 0 ? 'none' : oneIn === 1 ? 'all' : 'sample';
}

/** Chooses how much is kept: none, one in n, or all. */
export function ShareChoice(props: {
  readonly label: string;
  readonly mode: ShareMode;
  /** The number of the sample that counts now. */
  readonly oneIn: number;
  /** The number as it is typed, which may be wrong. */
  readonly n: number;
  readonly isWrong: boolean;
  readonly onMode: (mode: ShareMode) => void;
  readonly onN: (n: number) => void;
}) {
  const { label, mode, oneIn, n, isWrong, onMode, onN } = props;
  return (
    <>
      <Choice
        marked
        label={label}
        value={mode}
        onChange={onMode}
        options={[
          { value: 'none', title: 'none' },
          { value: 'sample', title: mode === 'sample' ? `1 in ${oneIn}` : '1 in n' },
          { value: 'all', title: 'all' },
        ]}
      />
      {mode === 'sample' && (
        <label className="text-[12.5px]">
          n{' '}
          <input
            type="number"
            min={2}
            aria-invalid={isWrong}
            value={n}
            onChange={(event) => onN(Number(event.target.value))}
            className="w-20 rounded border border-hair bg-sheet px-1"
          />
        </label>
      )}
    </>
  );
}
