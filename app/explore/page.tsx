import { Explore } from '#ui/stages/explore/explore.tsx';

export default function Page() {
  return <Explore />;
}
