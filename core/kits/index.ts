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

/** The kit that fits some lines of a source; undefined when none does. */
export function kitFor(lines: readonly string[]): StarterKit | undefined {
  if (lines.length === 0) return undefined;
  return starterKits.find((kit) => lines.filter((line) => kit.fits(line)).length >= lines.length * offeredFrom);
}
