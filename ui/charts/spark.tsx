/** A small line without axes; the last value is marked. */
export function Spark({
  values,
  label,
  width = 96,
  height = 20,
}: {
  readonly values: readonly number[];
  readonly label: string;
  readonly width?: number;
  readonly height?: number;
}) {
  const most = Math.max(...values, 1e-9);
  const step = width / Math.max(1, values.length - 1);
  const points = values.map(
    (value, i) => `${(i * step).toFixed(1)},${(height - 2 - (value / most) * (height - 4)).toFixed(1)}`,
  );
  return (
    <svg width={width} height={height} role="img" aria-label={label} className="block">
      <line x1="0" x2={width} y1={height - 1.5} y2={height - 1.5} stroke="var(--hair)" />
      <polyline points={points.join(' ')} fill="none" stroke="var(--d5)" strokeWidth="1.5" />
    </svg>
  );
}
