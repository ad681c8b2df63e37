import { boolean, number, object, string } from 'yup';
import { day } from '../events/time-units.ts';
import { parseDuration } from '../events/units.ts';
import { keptOneIn } from '../routing/kept-share.ts';
import { operation } from './operation.ts';

/** Longest time that something may be switched for, in milliseconds. */
const longest = 90 * day;

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
  summary: 'Postures of the live plan with their state, and exclusions that are overridden for a while.',
  failure: 'The switches could not be loaded',
  permission: 'see',
  input: object({}),
});

export const switchTokens = operation({
  method: 'GET',
  path: '/api/switch-tokens',
  summary: 'Tokens with which programs can switch postures and exclusions, and nothing else.',
  failure: 'The tokens could not be loaded',
  permission: 'see',
  input: object({}),
});

export const addSwitchToken = operation({
  method: 'POST',
  path: '/api/switch-tokens',
  summary: 'Creates a token for switching. It is shown only in this answer; send it as `Authorization: Bearer`.',
  failure: 'The token could not be created',
  permission: 'operate',
  input: object({ title: string().trim().required('Enter a name.').max(64, 'At most 64 characters.') }),
  status: 201,
});

export const removeSwitchToken = operation({
  method: 'DELETE',
  path: '/api/switch-tokens',
  summary: 'Revokes a token for switching.',
  failure: 'The token could not be revoked',
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
  summary: 'Temporarily overrides how much an exclusion keeps: none, all, or 1 in n.',
  failure: 'The exclusion could not be switched',
  permission: 'switch',
  input: object({
    tier: planId,
    exclusion: planId,
    keep: string()
      .required()
      .test('keep', 'An exclusion keeps none, all, or 1 in a number from 2 to 1,000,000.', (text) => {
        return keptOneIn(text ?? '') !== undefined;
      }),
    for: forTime,
    reason,
  }),
});

export const restoreExclusion = operation({
  method: 'DELETE',
  path: '/api/exclusions/{tier}/{exclusion}',
  summary: 'Ends the override of an exclusion.',
  failure: 'The exclusion could not be switched back',
  permission: 'switch',
  input: object({ tier: planId, exclusion: planId }),
});
