import type { ReactNode } from 'react';

/** A small picture of what a stage will show. Decorative: the text beside it says the same. */
function Still({ children }: { readonly children: ReactNode }) {
  return (
    <svg
      viewBox="0 0 240 120"
      width={240}
      height={120}
      aria-hidden="true"
      className="shrink-0 rounded-[5px] border border-hair bg-sheet"
    >
      {children}
    </svg>
  );
}

/** A bar that stands for a piece of text. */
function Word({ x, y, width, faint = false }: { x: number; y: number; width: number; faint?: boolean }) {
  return (
    <rect x={x} y={y} width={width} height={4} rx={2} fill={faint ? 'var(--hair)' : 'var(--second)'} opacity={0.75} />
  );
}

const rows = [0, 1, 2, 3] as const;

/** Sources with a chart of their day; one of them is silent. */
export function SourcesStill() {
  const courses = ['8,6 5,9 7,3 4,6', '5,5 6,4 5,6 4,5', '9,8 7,5 3,2 1,1', '3,6 8,9 8,6 7,8'];
  return (
    <Still>
      {rows.map((row) => (
        <g key={row} transform={`translate(14 ${16 + row * 26})`}>
          <circle cx={4} cy={6} r={3.5} fill={row === 2 ? 'var(--caution)' : 'var(--well)'} />
          <Word x={16} y={4} width={[52, 38, 60, 44][row] as number} />
          {courses[row]?.split(/[ ,]/).map((height, i) => (
            <rect
              key={`${row} ${i}`}
              x={96 + i * 15}
              y={14 - Number(height)}
              width={11}
              height={Number(height)}
              fill="var(--d3)"
            />
          ))}
          <line x1={0} x2={212} y1={19} y2={19} stroke="var(--hair)" />
        </g>
      ))}
    </Still>
  );
}

/** Log lines with their fields tinted. */
export function ParsingStill() {
  const pieces = [
    [14, 44],
    [64, 26],
    [98, 60],
    [166, 30],
  ] as const;
  return (
    <Still>
      {rows.map((row) => (
        <g key={row} transform={`translate(0 ${18 + row * 24})`}>
          {pieces.map(([x, width], i) => (
            <rect
              key={x}
              x={x + row * i * 2}
              width={width - ((row * 5) % 9)}
              height={13}
              rx={3}
              fill={`var(--hole-${i + 1})`}
            />
          ))}
          <Word x={204 + row} y={5} width={18} faint />
        </g>
      ))}
    </Still>
  );
}

/** The stream of events, with the part that each tier takes. */
export function RoutingStill() {
  return (
    <Still>
      <path d="M40 8 H130 V36 H110 V64 H82 V92 H58 V112 H40 Z" fill="var(--d2)" />
      {[
        [36, 20, 'var(--d6)'],
        [64, 28, 'var(--d4)'],
        [92, 24, 'var(--d3)'],
      ].map(([y, width, fill]) => (
        <g key={y}>
          <rect x={146} y={Number(y) - 18} width={Number(width)} height={12} fill={String(fill)} />
          <Word x={182} y={Number(y) - 14} width={40} />
          <line x1={130} x2={226} y1={Number(y)} y2={Number(y)} stroke="var(--hair)" />
        </g>
      ))}
    </Still>
  );
}

/** A metric over days, with its normal range. */
export function MetricsStill() {
  return (
    <Still>
      <path
        d="M14 70 C50 40 70 84 110 60 S170 40 226 62 V84 C170 66 150 82 110 84 S50 72 14 94 Z"
        fill="var(--d2)"
        opacity={0.6}
      />
      <path
        d="M14 82 C50 52 70 92 110 72 S160 26 184 30 S210 66 226 72"
        fill="none"
        stroke="var(--d6)"
        strokeWidth={2}
      />
      <line x1={14} x2={226} y1={106} y2={106} stroke="var(--second)" />
      <circle cx={184} cy={30} r={4} fill="none" stroke="var(--mark)" strokeWidth={2} />
    </Still>
  );
}

/** Matching lines beside a histogram of their times. */
export function ExploreStill() {
  return (
    <Still>
      {Array.from({ length: 12 }, (_, i) => (
        <rect
          key={i}
          x={48 - (((i * 37) % 29) + 6)}
          y={12 + i * 8}
          width={((i * 37) % 29) + 6}
          height={6}
          fill="var(--d2)"
        />
      ))}
      <line x1={50} x2={50} y1={10} y2={110} stroke="var(--ink)" />
      {Array.from({ length: 6 }, (_, i) => (
        <g key={i}>
          <Word x={62} y={16 + i * 16} width={34} faint />
          <Word x={104} y={16 + i * 16} width={[96, 80, 110, 64, 102, 88][i] as number} />
        </g>
      ))}
    </Still>
  );
}

/** The cost of a month with its forecast and budget. */
export function CostsStill() {
  return (
    <Still>
      <line x1={14} x2={226} y1={30} y2={30} stroke="var(--mark)" strokeDasharray="5 4" />
      <path d="M14 104 L120 62 L120 104 Z" fill="var(--d3)" />
      <path d="M120 62 L226 18 L226 42 Z" fill="var(--d2)" opacity={0.7} />
      <path d="M120 62 L226 30" fill="none" stroke="var(--d6)" strokeDasharray="3 3" />
      <line x1={14} x2={226} y1={104} y2={104} stroke="var(--second)" />
    </Still>
  );
}

/** Revisions in order, the latest first. */
export function ChangesStill() {
  return (
    <Still>
      <line x1={30} x2={30} y1={14} y2={106} stroke="var(--hair)" strokeWidth={2} />
      {rows.map((row) => (
        <g key={row} transform={`translate(0 ${22 + row * 26})`}>
          <circle cx={30} cy={0} r={5} fill={row === 0 ? 'var(--mark)' : 'var(--sheet)'} stroke="var(--mark)" />
          <Word x={48} y={-2} width={[120, 92, 134, 76][row] as number} />
          <Word x={200} y={-2} width={24} faint />
        </g>
      ))}
    </Still>
  );
}
