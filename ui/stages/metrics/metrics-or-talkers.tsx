'use client';

import Link from 'next/link';

const pages = [
  { id: 'metrics', title: 'Metrics', path: '/metrics' },
  { id: 'talkers', title: 'Talkers', path: '/metrics/talkers' },
] as const;

/** The two sides of the stage: numbers that are kept, and who contributes most. */
export function MetricsOrTalkers({ current }: { readonly current: (typeof pages)[number]['id'] }) {
  return (
    <nav
      aria-label="Metrics or talkers"
      className="inline-flex overflow-hidden rounded-[5px] border border-hair bg-sheet text-[12.5px]"
    >
      {pages.map(({ id, title, path }) => (
        <Link
          key={id}
          href={path}
          aria-current={id === current ? 'page' : undefined}
          className={`px-2.5 py-0.5 ${id === current ? 'bg-land font-semibold text-ink' : 'text-second hover:text-ink'}`}
        >
          {title}
        </Link>
      ))}
    </nav>
  );
}
