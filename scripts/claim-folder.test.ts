import { mkdirSync, mkdtempSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { claimFolder } from './claim-folder.mjs';

test('of two who want to run on a folder, by whatever name, the second is refused', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'otter-claim-'));
  try {
    mkdirSync(join(folder, 'data'));
    symlinkSync(join(folder, 'data'), join(folder, 'link'));
    const first = await claimFolder(join(folder, 'data'));
    await expect(claimFolder(join(folder, 'link'))).rejects.toThrow(
      /is running on .* already. Stop it, or set DATA_DIR/,
    );
    const other = await claimFolder(folder);
    await first.close();
    const again = await claimFolder(join(folder, 'link'));
    await Promise.all([other.close(), again.close()]);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
