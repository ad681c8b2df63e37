import { createHash } from 'node:crypto';
import { realpathSync } from 'node:fs';
import { createServer } from 'node:net';

/**
 * Makes sure that nothing else runs on a data folder, and that nothing is started on it from now on until what is returned is closed
 * or this process ends. Throws where something does.
 * @param {string} folder
 */
export async function claimFolder(folder) {
  const path = realpathSync(folder);
  const hash = createHash('sha256').update(path).digest('hex').slice(0, 24);
  const claim = createServer((socket) => socket.destroy());
  await new Promise((/** @type {(value?: undefined) => void} */ done, failed) => {
    claim.once('error', failed);
    // A name of the kernel, no file: it is gone with the process, however that ends (unix(7), abstract sockets).
    claim.listen(`\0restless-otter-${hash}`, done);
  }).catch((error) => {
    if (error.code !== 'EADDRINUSE') throw error;
    throw new Error(`Restless Otter is running on ${path} already. Stop it, or set DATA_DIR to another folder.`);
  });
  return {
    close: () => new Promise((/** @type {(value?: undefined) => void} */ done) => void claim.close(() => done())),
  };
}
