import { Suspense } from 'react';
import { Sources } from '#ui/stages/sources/sources.tsx';

export default function Page() {
  return (
    <Suspense>
      <Sources />
    </Suspense>
  );
}
