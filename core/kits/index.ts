import type { PipelineDocument } from '../plan/parts/pipelines/pipelines-shape.ts';
import { stepDocument, stepParts } from '../steps/step-document.ts';
import { growTemplate } from '../templates/grow.ts';
import { fits } from '../templates/learn.ts';
import { auditTrail } from './audit-trail.ts';
import { csvTelemetry } from './csv-telemetry.ts';
import type { StarterKit } from './kit.ts';
import { networkGear } from './network-gear.ts';
import { pairsService } from './pairs-service.ts';
import { stackTraces } from './stack-traces.ts';
import { structuredJson } from './structured-json.ts';
import { webAccess } from './web-access.ts';

/** All starter kits; of several that fit the same lines the first one is offered. */
export const starterKits: readonly StarterKit[] = [
  webAccess,
  networkGear,
  auditTrail,
  structuredJson,
  csvTelemetry,
  stackTraces,
  pairsService,
];

/** Share of lines that a kit must fit to be offered. */
const offeredFrom = 0.8;

/**
 * The starter kit for the lines of a source, with its template extended if the lines have additional fields; undefined if no
 * kit fits.
 */
export function kitFor(lines: readonly string[]): StarterKit | undefined {
  if (lines.length === 0) return undefined;
  const areMost = (fit: (line: string) => boolean): boolean => lines.filter(fit).length >= lines.length * offeredFrom;
  const exact = starterKits.find((kit) => areMost(kit.fits));
  if (exact) return exact;
  for (const kit of starterKits)
    for (const template of kit.templates ?? []) {
      const grown = growTemplate(template, lines);
      if (grown && areMost((line) => fits(grown.template, line))) return grownKit(kit, grown.template, grown.where);
    }
  return undefined;
}

/** A kit with a further template at the beginning of its first step. */
function grownKit(kit: StarterKit, template: string, where: string): StarterKit {
  return {
    ...kit,
    title: `${kit.title}, extended ${where}`,
    fits: (line) => fits(template, line) || kit.fits(line),
    pipeline: (source): PipelineDocument => {
      const pipeline = kit.pipeline(source);
      const [first, ...others] = pipeline.steps;
      if (!first) return pipeline;
      const parts = stepParts(first);
      const templates = [template, ...(kit.templates ?? [])];
      return { ...pipeline, steps: [stepDocument({ ...parts, options: { from: 'body', templates } }), ...others] };
    },
  };
}
