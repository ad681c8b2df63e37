import { Suspense } from 'react';
import { Overview } from '#ui/stages/overview/overview.tsx';

export default function Page() {
  return (
    <Suspense>
      <Overview />
    </Suspense>
  );
}
