'use client';

import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { namedSource } from '#core/plan/named-source.ts';
import { compileTemplate } from '#core/templates/template.ts';
import { addPipeline, useDraft, withPipeline } from '../../../data/draft.ts';
import { TemplateEditor } from '../../../editors/template-editor.tsx';
import { Button } from '../../../kit/button.tsx';

/** The template whose fields events have for this search, and the way from there into the draft. */
export function ExtractionRow(props: {
  readonly template: string;
  /** The sources of what was found. */
  readonly sources: readonly string[];
  readonly onChange: (template: string | null) => void;
}) {
  const { template, sources, onChange } = props;
  const [typed, setTyped] = useState(template);
  useEffect(() => setTyped(template), [template]);
  const compiled = compileTemplate(typed);
  return (
    <div className="mt-2 flex items-start gap-3" data-extraction="">
      <span className="pt-1.5 text-[13px] text-second">with</span>
      <div className="min-w-0 flex-1">
        <TemplateEditor value={typed} label="Fields extracted from bodies" onChange={setTyped} />
        {!compiled.ok && typed !== '' && (
          <p role="alert" className="text-[12.5px] text-danger">
            {compiled.problem.message} (character {compiled.problem.start + 1})
          </p>
        )}
      </div>
      <span className="pt-1.5 text-[13px] text-second">from body</span>
      {typed !== template && (
        <Button disabled={!compiled.ok} onClick={() => onChange(typed)}>
          Search with these fields
        </Button>
      )}
      <ToDraft template={template} sources={sources} />
      <Button look="quiet" onClick={() => onChange(null)}>
        Remove
      </Button>
    </div>
  );
}

/** Puts the template into the draft, as a step of the pipeline that the events go through, or of a new one. */
function ToDraft({ template, sources }: { readonly template: string; readonly sources: readonly string[] }) {
  const { plan, change } = useDraft();
  const [source] = sources;
  if (!plan || source === undefined || sources.length > 1) return null;
  const pipeline = plan.pipelines.find(({ when }) => namedSource(when) === source);
  const step = { extract: { from: 'body', template } };
  const put = async (): Promise<void> => {
    const made = { id: source, title: source, when: `source = ${source}`, steps: [step] };
    if (pipeline)
      await change((before) => withPipeline(before, pipeline.id, (old) => ({ ...old, steps: [...old.steps, step] })));
    else await addPipeline(change, made);
    toast(`The draft has it as ${pipeline ? `the last step of ${pipeline.title}` : `a new pipeline for ${source}`}.`);
  };
  return <Button onClick={() => void put()}>Add step to draft</Button>;
}
