import { keptOneIn } from '#core/routing/kept-share.ts';

/** A request to the application that switches something for a while. */
export interface SwitchRequest {
  readonly path: string;
  readonly body: Readonly<Record<string, unknown>>;
}

/** What is said of words that ask for nothing that can be done. */
export class SwitchFault extends Error {
  override readonly name = 'SwitchFault';
}

/** The value behind an option such as `--for`; undefined where it is not given. */
function option(words: readonly string[], name: string): string | undefined {
  const at = words.indexOf(name);
  if (at < 0) return undefined;
  const value = words[at + 1];
  if (value === undefined) throw new SwitchFault(`${name} is followed by nothing.`);
  return value;
}

function forHowLong(words: readonly string[]): Readonly<Record<string, string>> {
  const [time, reason] = [option(words, '--for'), option(words, '--reason')];
  return { ...(time !== undefined && { for: time }), ...(reason !== undefined && { reason }) };
}

/** `posture NAME on|off [--for 4h] [--reason TEXT]` as a request. Throws {@link SwitchFault}. */
export function postureRequest([name = '', state = '', ...rest]: readonly string[]): SwitchRequest {
  if (name === '' || (state !== 'on' && state !== 'off'))
    throw new SwitchFault('Say which posture, and whether it is to be on or off.');
  return { path: `/api/postures/${encodeURIComponent(name)}`, body: { on: state === 'on', ...forHowLong(rest) } };
}

/** `exclusion TIER/NAME none|all|1-in-n [--for 2h] [--reason TEXT]` as a request. Throws {@link SwitchFault}. */
export function exclusionRequest([name = '', share = '', ...rest]: readonly string[]): SwitchRequest {
  const [tier = '', exclusion = ''] = name.split('/');
  const keep = share.replaceAll('-', ' ');
  if (tier === '' || exclusion === '') throw new SwitchFault('Name the exclusion as its tier and its id: rest/probes.');
  if (keptOneIn(keep) === undefined) throw new SwitchFault('An exclusion keeps none, all, or 1-in-n, such as 1-in-50.');
  const path = `/api/exclusions/${encodeURIComponent(tier)}/${encodeURIComponent(exclusion)}`;
  return { path, body: { keep, ...forHowLong(rest) } };
}

/** Sends a request to the application at `address`, with a token for switching where one is given; what it answers in a sentence. Throws with what is in the way. */
export async function send({ path, body }: SwitchRequest, address: string, token = ''): Promise<string> {
  const answer = await fetch(new URL(path, address), {
    method: 'PUT',
    headers: {
      'content-type': 'application/json',
      origin: address,
      ...(token && { authorization: `Bearer ${token}` }),
    },
    body: JSON.stringify(body),
  });
  const said: { readonly until?: number; readonly detail?: string; readonly title?: string } = await answer.json();
  if (!answer.ok) throw new SwitchFault(said.detail ?? said.title ?? `The application says ${answer.status}.`);
  return said.until === undefined ? 'Switched off.' : `Switched until ${new Date(said.until).toISOString()}.`;
}
