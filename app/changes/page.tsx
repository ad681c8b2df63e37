import { Changes } from '#ui/stages/changes/changes.tsx';

export default function Page() {
  return <Changes />;
}
