import { Suspense } from 'react';
import { Metrics } from '#ui/stages/metrics/metrics.tsx';

export default function Page() {
  return (
    <Suspense>
      <Metrics />
    </Suspense>
  );
}
