import { Costs } from '#ui/stages/costs/costs.tsx';

export default function Page() {
  return <Costs />;
}
