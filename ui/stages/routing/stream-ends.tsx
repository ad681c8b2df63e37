import Link from 'next/link';
import { formatBytes, formatCount } from '#core/events/units.ts';
import type { RoutingAnswer } from '../../data/answers.ts';
import { Nothing } from '../../kit/section.tsx';
import { RoutingStill } from '../../kit/still-pictures.tsx';
import { KeepInWords } from './keep-in-words.tsx';
import { StreamPiece } from './stream-piece.tsx';

/** What the stage will show once events arrive. */
export function NoStream() {
  return (
    <Nothing title="Nothing to route yet." picture={<RoutingStill />}>
      <p className="mt-1 max-w-[560px]">
        What arrives falls past the tiers below, from top to bottom. Each takes what it matches and keeps it for its
        time, less what its exclusions leave out; beside each stands what that costs.
      </p>
      <p className="mt-3">
        <Link href="/sources?connect=1" className="text-mark underline">
          Connect a source
        </Link>
      </p>
    </Nothing>
  );
}

/** The end of the stream: what no tier takes. */
export function PassingRow({ data }: { readonly data: RoutingAnswer }) {
  return (
    <div className="grid grid-cols-[150px_1fr] border-t border-hair">
      <StreamPiece before={data.passing.bytes} taken={0} total={data.arrived.bytes} quiet />
      <div className="py-2.5 pl-3">
        <b className="text-[15px] font-[650]">Passing</b> <KeepInWords text="1 h" />
        <p className="mt-1 text-[12.5px] text-second">
          {formatBytes(data.passing.bytes)} that no tier takes goes by, searchable for the hour, with what is excluded
          {data.rejected.events > 0 &&
            `; ${formatCount(data.rejected.events)} events were rejected by steps and are held for a week`}
          .
        </p>
      </div>
    </div>
  );
}
