import { PipelinePage } from '#ui/stages/parsing/pipeline-page.tsx';

export default async function Page({ params }: { readonly params: Promise<{ readonly pipeline: string }> }) {
  return <PipelinePage id={(await params).pipeline} />;
}
