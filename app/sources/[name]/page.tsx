import { SourcePage } from '#ui/stages/sources/source-page.tsx';

export default async function Page({ params }: { readonly params: Promise<{ readonly name: string }> }) {
  return <SourcePage name={(await params).name} />;
}
