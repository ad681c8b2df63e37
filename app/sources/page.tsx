import { Sources } from '#ui/stages/sources/sources.tsx';

export default function Page() {
  return <Sources />;
}
