import { Overview } from '#ui/stages/overview/overview.tsx';

export default function Page() {
  return <Overview />;
}
