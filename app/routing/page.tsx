import { Suspense } from 'react';
import { Routing } from '#ui/stages/routing/routing.tsx';

export default function Page() {
  return (
    <Suspense>
      <Routing />
    </Suspense>
  );
}
