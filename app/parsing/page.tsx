import { Parsing } from '#ui/stages/parsing/parsing.tsx';

export default function Page() {
  return <Parsing />;
}
