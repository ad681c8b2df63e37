import { choose } from './choose.ts';
import { dropBody } from './events/drop-body.ts';
import { joinLines } from './events/join-lines.ts';
import { setSeverity } from './events/set-severity.ts';
import { setTime } from './events/set-time.ts';
import { splitArray } from './events/split-array.ts';
import { templateBody } from './events/template-body.ts';
import { compute } from './fields/compute.ts';
import { convert } from './fields/convert.ts';
import { copy } from './fields/copy.ts';
import { keepOnly } from './fields/keep-only.ts';
import { locate } from './fields/locate.ts';
import { map } from './fields/map.ts';
import { remove } from './fields/remove.ts';
import { rename } from './fields/rename.ts';
import { mask } from './mask.ts';
import { extract } from './parse/extract.ts';
import { parseCsv } from './parse/parse-csv.ts';
import { parseJson } from './parse/parse-json.ts';
import { parsePairs } from './parse/parse-pairs.ts';
import { parseQuery } from './parse/parse-query.ts';
import { readAgent } from './parse/read-agent.ts';
import type { StepKind } from './step.ts';

/** All step kinds by name. Each checks its own options, so they are listed without their option types. */
export const stepKinds: ReadonlyMap<string, StepKind> = new Map(
  [
    extract,
    parseJson,
    parsePairs,
    parseCsv,
    parseQuery,
    setTime,
    setSeverity,
    rename,
    copy,
    remove,
    keepOnly,
    convert,
    compute,
    map,
    readAgent,
    locate,
    mask,
    dropBody,
    templateBody,
    joinLines,
    splitArray,
    choose,
  ].map((kind) => [kind.kind, kind as unknown as StepKind]),
);
