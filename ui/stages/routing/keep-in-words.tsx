import { formatDuration, parseDuration } from '#core/events/units.ts';

/** For how long a tier keeps events. */
export function KeepInWords({ text }: { readonly text: string }) {
  const duration = parseDuration(text);
  return (
    <span className="ml-2 rounded bg-land px-2 py-0.5 text-[12.5px]">
      {duration === undefined ? text : formatDuration(duration / 1000).replace(/ d$/, ' days')}
    </span>
  );
}
