import { Metrics } from '#ui/stages/metrics/metrics.tsx';

export default function Page() {
  return <Metrics />;
}
