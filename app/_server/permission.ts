import type { Permission } from '#core/operations/operation.ts';

/** Whether whoever sent a request may do something of this kind. There are no accounts: everyone who gets here may do all. */
export async function mayThey(_request: Request, _permission: Permission): Promise<boolean> {
  return true;
}
