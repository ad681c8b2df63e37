import { Suspense } from 'react';
import { Talkers } from '#ui/stages/metrics/talkers/talkers.tsx';

export default function Page() {
  return (
    <Suspense>
      <Talkers />
    </Suspense>
  );
}
