import { isIP } from 'node:net';
import { hostname } from 'node:os';
import { isSameText } from '../base/same-text.ts';

/** Who may ask for what the engine measures. */
export interface MetricsDoor {
  /** What has to be shown as a bearer token; empty: nothing. */
  readonly token: string;
  /** Names of hosts that requests may be addressed to, beside this machine's own. */
  readonly hosts: readonly string[];
}

/**
 * Whether a request is addressed to a host that is known: an address, a name of this machine, or one that the installation names.
 * A page that someone looks at elsewhere could have its own name stand for this machine, but not these.
 */
export function isKnownHost({ hosts }: MetricsDoor, given: string | undefined): boolean {
  const name = (given ?? '')
    .replace(/:\d+$/, '')
    .replace(/^\[|\]$/g, '')
    .toLowerCase();
  if (isIP(name) !== 0) return true;
  return ['localhost', hostname().toLowerCase(), ...hosts.map((host) => host.toLowerCase())].includes(name);
}

/** Whether the token is shown, where there is one. */
export function isShown({ token }: MetricsDoor, shown: string | undefined): boolean {
  return token === '' || isSameText(shown ?? '', token);
}
