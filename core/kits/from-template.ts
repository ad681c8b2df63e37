import type { PipelineDocument } from '../plan/parts/pipelines/pipelines-shape.ts';
import type { StepDocument } from '../steps/step-document.ts';
import { templateOf } from '../templates/template.ts';
import { entryOf } from './kit.ts';

/**
 * A pipeline for a source whose lines a template takes apart: a time that it takes becomes the event's, a level its severity, and
 * a message its body.
 */
export function pipelineFromTemplate(template: string, source: string): PipelineDocument {
  const { holes } = templateOf(template);
  const time = holes.find(({ type }) => type.gives === 'time')?.name;
  const has = (name: string): boolean => holes.some((hole) => hole.name === name);
  const steps: StepDocument[] = [{ extract: { from: 'body', template } }];
  if (time) steps.push({ 'set-time': { from: time }, when: `has ${time}` });
  if (has('level')) steps.push({ 'set-severity': { from: 'level' }, when: 'has level' });
  if (has('message'))
    steps.push(
      { 'template-body': { template: '{message}' }, when: 'has message' },
      { remove: { fields: ['message'] } },
    );
  return { ...entryOf('lines', source), title: `Lines of ${source}`, steps };
}
