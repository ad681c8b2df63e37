import { object, string } from 'yup';
import { formatPlace } from '../../places/place.ts';
import { FailureCollector, type StepKind, stepResult } from '../step.ts';
import { below, eachDistinct, MadeAttributes } from '../texts.ts';

export interface LocateOptions {
  readonly from: string;
  readonly under?: string | undefined;
}

/** Finds out where an IP address is registered. */
export const locate: StepKind<LocateOptions> = {
  kind: 'locate',
  title: 'Locate IP',
  help: 'Finds the country in which an IP address is registered and the middle of that country, into fields under “place” or another name: country, code (ISO 3166) and point (latitude,longitude). The database ships with the product and tells countries, not cities. Addresses of private networks are nowhere: the step fails for them, so guard it if you have many.',
  schema: object({ from: string().required().default('client'), under: string().default('place') }).noUnknown(),
  describe: ({ from }) => `locate the address in ${from}`,
  makes: ({ under }) => ['country', 'code', 'point'].map((name) => below(under, name)),
  reads: ({ from }) => [from],
  example: {
    options: { from: 'client', under: 'place' },
    input: '{"client":"192.0.2.7"}',
    expect: { 'parse.failed': 'example/1: nobody knows where client is', 'place.code': null },
  },
  compile: (options, resources) => (batch, rows) => {
    const made = new MadeAttributes(batch.rows);
    const failures = new FailureCollector(batch.rows);
    eachDistinct(
      batch,
      options.from,
      rows,
      (address) => resources.place(address),
      (row, place) => {
        if (!place) {
          failures.add(row, `nobody knows where ${options.from} is`);
          return;
        }
        made.get(below(options.under, 'country')).setString(row, place.country);
        made.get(below(options.under, 'code')).setString(row, place.code);
        made.get(below(options.under, 'point')).setString(row, formatPlace(place.latitude, place.longitude));
      },
      (row) => failures.add(row, `there is no ${options.from}`),
    );
    return stepResult(made.into(batch, failures.passed(rows)), failures);
  },
};
