import Bowser from 'bowser';
import { object, string } from 'yup';
import type { StepKind } from '../step.ts';
import { below, eachDistinct, MadeAttributes } from '../texts.ts';

export interface ReadAgentOptions {
  readonly from: string;
  readonly under?: string | undefined;
}

/** Longest user agent that is read; longer ones are cut. */
const longest = 1_024;

/** Reads browser, operating system and device from a user agent. */
export const readAgent: StepKind<ReadAgentOptions> = {
  kind: 'read-agent',
  title: 'Read user agent',
  help: 'Reads the browser, its version, the operating system and the kind of device (desktop, mobile, tablet, tv, bot) from a user agent, into fields under “agent” or another name. Parts that the agent does not tell are left out.',
  schema: object({ from: string().required().default('agent'), under: string().default('agent') }).noUnknown(),
  describe: ({ from }) => `read the user agent in ${from}`,
  makes: ({ under }) => ['browser', 'version', 'os', 'device'].map((name) => below(under, name)),
  reads: ({ from }) => [from],
  example: {
    options: { from: 'ua', under: 'agent' },
    input: '{"ua":"Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0"}',
    expect: { 'agent.browser': 'Firefox', 'agent.version': '140.0', 'agent.os': 'Linux', 'agent.device': 'desktop' },
  },
  compile: (options) => (batch, rows) => {
    const made = new MadeAttributes(batch.rows);
    eachDistinct(
      batch,
      options.from,
      rows,
      readParts,
      (row, parts) => {
        for (const [name, value] of parts) if (value) made.get(below(options.under, name)).setString(row, value);
      },
      () => {},
    );
    return { batch: made.into(batch, rows) };
  },
};

function readParts(agent: string): readonly (readonly [string, string | undefined])[] {
  if (agent.trim() === '' || agent === '-') return [];
  const { browser, os, platform } = Bowser.parse(agent.slice(0, longest));
  return [
    ['browser', browser.name],
    ['version', browser.version],
    ['os', os.name],
    ['device', platform.type],
  ];
}
