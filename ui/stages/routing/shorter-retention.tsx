import { formatDuration } from '#core/events/units.ts';
import { shorterKeep } from '#core/usage/shorter-keep.ts';
import { useQuestion } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';

/** Offers a shorter retention for a tier if nothing older was read. `keep` in milliseconds. */
export function ShorterRetention(props: {
  readonly tier: string;
  readonly keep: number | undefined;
  readonly onTake: (keep: string) => void;
}) {
  const { tier, keep = 0, onTake } = props;
  const { data } = useQuestion('usage', { kind: 'tier', name: tier }, 60_000);
  const days = data && shorterKeep(data, keep, Date.now());
  if (!days) return null;
  return (
    <p className="text-[12.5px]">
      Nothing older than {formatDuration(days * 86_400)} was read.
      <Button look="quiet" className="-ml-3 block text-[12.5px]" onClick={() => onTake(`${days}d`)}>
        Keep {days} d
      </Button>
    </p>
  );
}
