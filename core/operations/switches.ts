import { boolean, number, object, string } from 'yup';
import { parseDuration } from '../events/units.ts';
import { keptOneIn } from '../plan/document.ts';
import { operation } from './operation.ts';

/** Longest time that something may be switched for, in milliseconds. */
const longest = 90 * 86_400_000;

const durationFault = 'A duration with its unit of up to 90 days, such as 4h.';

function isSwitchTime(text: string | undefined): boolean {
  const time = parseDuration(text ?? '');
  return time !== undefined && time >= 1_000 && time <= longest;
}

const forTime = string().default('1h').test('for', durationFault, isSwitchTime);
const reason = string().trim().max(500).default('');
const planId = string().required().max(64);

export const switches = operation({
  method: 'GET',
  path: '/api/switches',
  summary: 'The postures of the live plan, which of them are on, and the exclusions that are switched for a while.',
  failure: 'The switches could not be read',
  permission: 'see',
  input: object({}),
});

export const switchTokens = operation({
  method: 'GET',
  path: '/api/switch-tokens',
  summary: 'The tokens with which programs may switch postures and exclusions, and do nothing else.',
  failure: 'The tokens could not be read',
  permission: 'see',
  input: object({}),
});

export const addSwitchToken = operation({
  method: 'POST',
  path: '/api/switch-tokens',
  summary: 'Makes a token for switching. It is told this once; send it as `Authorization: Bearer`.',
  failure: 'The token could not be made',
  permission: 'operate',
  input: object({ title: string().trim().required('Say what it is for.').max(64, 'At most 64 characters.') }),
  status: 201,
});

export const removeSwitchToken = operation({
  method: 'DELETE',
  path: '/api/switch-tokens',
  summary: 'Ends a token for switching at once.',
  failure: 'The token could not be ended',
  permission: 'operate',
  input: object({ id: number().integer().required() }),
});

export const switchPosture = operation({
  method: 'PUT',
  path: '/api/postures/{id}',
  summary: 'Switches a posture of the live plan on for a while, or off.',
  failure: 'The posture could not be switched',
  permission: 'switch',
  input: object({ id: planId, on: boolean().required(), for: forTime, reason }),
});

export const switchExclusion = operation({
  method: 'PUT',
  path: '/api/exclusions/{tier}/{exclusion}',
  summary: 'Has an exclusion of the live plan keep something else for a while: none, all, or 1 in n.',
  failure: 'The exclusion could not be switched',
  permission: 'switch',
  input: object({
    tier: planId,
    exclusion: planId,
    keep: string()
      .required()
      .test('keep', 'It keeps none, all, or 1 in a number from 2 to 1,000,000.', (text) => {
        return keptOneIn(text ?? '') !== undefined;
      }),
    for: forTime,
    reason,
  }),
});

export const restoreExclusion = operation({
  method: 'DELETE',
  path: '/api/exclusions/{tier}/{exclusion}',
  summary: 'Has an exclusion keep again what the live plan says.',
  failure: 'The exclusion could not be switched back',
  permission: 'switch',
  input: object({ tier: planId, exclusion: planId }),
});
