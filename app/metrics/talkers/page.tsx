import { Talkers } from '#ui/stages/metrics/talkers/talkers.tsx';

export default function Page() {
  return <Talkers />;
}
