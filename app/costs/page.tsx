import { Suspense } from 'react';
import { Costs } from '#ui/stages/costs/costs.tsx';

export default function Page() {
  return (
    <Suspense>
      <Costs />
    </Suspense>
  );
}
