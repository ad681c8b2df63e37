import { Suspense } from 'react';
import { Explore } from '#ui/stages/explore/explore.tsx';

export default function Page() {
  return (
    <Suspense>
      <Explore />
    </Suspense>
  );
}
