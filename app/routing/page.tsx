import { Routing } from '#ui/stages/routing/routing.tsx';

export default function Page() {
  return <Routing />;
}
