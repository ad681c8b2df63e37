/** Width of the whole stream in the picture. */
const full = 110;

/** A stretch of the falling stream: as wide as what comes from above, with a branch as wide as what is taken. */
export function StreamPiece({
  before,
  taken,
  total,
  quiet = false,
}: {
  readonly before: number;
  readonly taken: number;
  readonly total: number;
  readonly quiet?: boolean;
}) {
  const width = (bytes: number): number => (total > 0 ? (full * Math.max(0, bytes)) / total : 0);
  const from = width(before);
  const to = width(before - taken);
  const branch = Math.max(taken > 0 ? 1 : 0, Math.min(from - to, 40));
  return (
    <div className="relative min-h-[56px]">
      <svg aria-hidden="true" viewBox="0 0 150 100" preserveAspectRatio="none" className="absolute inset-0 size-full">
        <path d={`M0 0 H${from} C${from} 30 ${to} 30 ${to} 60 V100 H0 Z`} fill={quiet ? 'var(--hair)' : 'var(--d2)'} />
        {taken > 0 && (
          <path
            d={`M${to} 0 H${from} C${from} 14 ${from + 6} 16 150 16 V${16 + branch} C${from} ${16 + branch} ${to} ${30 + branch} ${to} 60 Z`}
            fill="var(--d3)"
          />
        )}
      </svg>
    </div>
  );
}
