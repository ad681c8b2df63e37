import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { array, object, string } from 'yup';
import { compileCondition } from '#core/conditions/condition.ts';
import { conditionDoubts, type KnownNames } from '#core/conditions/doubts.ts';
import { planDoubts } from '#core/plan/doubts/plan-doubts.ts';
import { planSchema } from '#core/plan/plan-schema.ts';
import { placesIn, readPlan } from '#core/plan/plan-text.ts';
import { runTests } from '#core/plan/run-tests.ts';
import { type LookupTable, parseTable, tableName } from '#core/tables/table.ts';
import { openFileFilter } from '#engine/search/filter-file.ts';
import { placeOf } from '#engine/workers/places.ts';
import { checkPrices, printPrices, savePrices } from './prices.ts';
import { exclusionRequest, postureRequest, send } from './switch.ts';
import { tellProblems } from './tell-problems.ts';

const usage = `npm run otter -- plan check FILE [TABLE.csv …]
                                          check a plan and run its tests; ends with 1 when something is wrong;
                                          with OTTER_URL, fields and sources are looked up there
npm run otter -- plan schema               print the JSON Schema of plans, for editors
npm run otter -- filter CONDITION FILE    print the JSON lines of a file that a condition picks
npm run otter -- prices check FILE         check a price book; ends with 1 when something is wrong
npm run otter -- prices get                print the price book at OTTER_URL
npm run otter -- prices put FILE           put that of a file in its place
npm run otter -- posture NAME on|off [--for 4h] [--reason TEXT]
npm run otter -- exclusion TIER/NAME none|all|1-in-n [--for 2h] [--reason TEXT]
                                          switch something of the live plan for a while, at OTTER_URL,
                                          with OTTER_TOKEN where that asks for one`;

/** Tables from CSV files, each named after its file; throws with what is wrong in one. */
function readTables(files: readonly string[]): ReadonlyMap<string, LookupTable> {
  return new Map(
    files.map((file) => {
      const parsed = parseTable(readFileSync(file, 'utf8'));
      if (!parsed.ok) throw new Error(`${file}: ${parsed.message}`);
      return [tableName(basename(file)), parsed.table];
    }),
  );
}

/** Checks a plan file; names each fault with line and column. `tableFiles` are what its tests look values up in. Returns the exit code. */
async function checkFile(file: string, tableFiles: readonly string[]): Promise<number> {
  const text = readFileSync(file, 'utf8');
  const read = readPlan(text);
  if (!read.ok) return tellProblems(file, read.problems);
  const standsAt = placesIn(text);
  for (const { path, message, suggestion } of planDoubts(read.plan, await knownNames(process.env.OTTER_URL))) {
    const { line, column } = standsAt(path);
    tellDoubt(`${file}:${line}:${column}`, `${path}: ${message}`, suggestion);
  }
  const tables = readTables(tableFiles);
  const failed = runTests(read.plan, { table: (name) => tables.get(name), place: placeOf });
  for (const { message } of failed) console.error(`${file}: ${message}`);
  const tests = read.plan.pipelines.reduce((sum, { tests: own = [] }) => sum + own.length, 0);
  if (failed.length === 0) {
    console.log(`${file}: the plan is good; ${read.plan.pipelines.length} pipelines, ${tests} tests passed.`);
  }
  return failed.length === 0 ? 0 : 1;
}

/** What things are called at a running application; nothing is known where none is named, or where it does not answer. */
async function knownNames(address: string | undefined): Promise<KnownNames> {
  if (address === undefined) return {};
  try {
    const answer = await fetch(new URL('/api/names', address));
    const { fields, sources, fleets } = namesShape.validateSync(await answer.json());
    return { fields: fields ?? undefined, sources, fleets };
  } catch {
    console.error(`${address} does not answer: names of fields and sources are not checked.`);
    return {};
  }
}

const namesShape = object({
  fields: array(string().required()).nullable(),
  sources: array(string().required()),
  fleets: array(string().required()),
});

/** Tells what is valid and can hardly be meant; nothing fails for it. */
function tellDoubt(place: string, message: string, suggestion: string | undefined): void {
  console.error(`${place}: ${message}${suggestion ? `; did you mean ${suggestion}?` : ''}`);
}

/** Prints what a condition picks from a file of JSON lines. Returns the exit code. */
async function filterFile(condition: string, file: string): Promise<number> {
  const compiled = compileCondition(condition);
  if (!compiled.ok) {
    const { message, start, suggestion } = compiled.problem;
    console.error(`condition:1:${start + 1}: ${message}${suggestion ? `; did you mean ${suggestion}?` : ''}`);
    return 1;
  }
  for (const { start, message, suggestion } of conditionDoubts(condition, {}))
    tellDoubt(`condition:1:${start + 1}`, message, suggestion);
  const filter = openFileFilter('.build/engine');
  const { lines } = await filter.run(file, condition, true);
  await filter.close();
  for (const line of lines) process.stdout.write(`${line}\n`);
  return 0;
}

const words = process.argv.slice(2);
const [command, first, second, ...more] = words;
/** Where the application is. */
const address = process.env.OTTER_URL ?? `http://127.0.0.1:${process.env.WEB_PORT ?? 3000}`;
try {
  if (command === 'plan' && first === 'check' && second) process.exitCode = await checkFile(second, more);
  else if (command === 'plan' && first === 'schema') console.log(JSON.stringify(planSchema(), null, 2));
  else if (command === 'prices' && first === 'check' && second) process.exitCode = checkPrices(second);
  else if (command === 'prices' && first === 'get') process.exitCode = await printPrices(address);
  else if (command === 'prices' && first === 'put' && second) process.exitCode = await savePrices(second, address);
  else if (command === 'posture')
    console.log(await send(postureRequest(words.slice(1)), address, process.env.OTTER_TOKEN));
  else if (command === 'exclusion')
    console.log(await send(exclusionRequest(words.slice(1)), address, process.env.OTTER_TOKEN));
  else if (command === 'filter' && first && second) process.exitCode = await filterFile(first, second);
  else {
    console.error(usage);
    process.exitCode = 2;
  }
} catch (error) {
  console.error(error instanceof Error ? error.message : String(error));
  process.exitCode = 2;
}
