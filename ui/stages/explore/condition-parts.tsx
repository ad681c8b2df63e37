import { partsOf, withoutPart } from '#core/conditions/parts.ts';

/** The parts of a condition, each to be switched off and on again; what is off is kept in the address. */
export function ConditionParts(props: {
  readonly condition: string;
  readonly off: readonly string[];
  readonly onOff: (condition: string, part: string) => void;
  readonly onOn: (part: string) => void;
}) {
  const { condition, off, onOff, onOn } = props;
  const parts = partsOf(condition);
  if (parts.length < 2 && off.length === 0) return null;
  return (
    <ul aria-label="Parts of the condition" className="mt-1.5 flex flex-wrap gap-x-4 text-[12.5px]">
      {parts.map((part, place) => (
        <li key={`${place} ${part}`}>
          <Part part={part} isOn onToggle={() => onOff(withoutPart(condition, place), part)} />
        </li>
      ))}
      {off.map((part) => (
        <li key={part}>
          <Part part={part} isOn={false} onToggle={() => onOn(part)} />
        </li>
      ))}
    </ul>
  );
}

function Part({
  part,
  isOn,
  onToggle,
}: {
  readonly part: string;
  readonly isOn: boolean;
  readonly onToggle: () => void;
}) {
  return (
    <label className="inline-flex min-h-6 items-center gap-1.5">
      <input type="checkbox" checked={isOn} onChange={onToggle} className="accent-mark" />
      <span className={`line ${isOn ? '' : 'text-second line-through'}`}>{part}</span>
    </label>
  );
}
