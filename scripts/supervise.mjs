/** The pause before something that ended is started again, doubled with each death in a row (milliseconds). */
const firstPause = 500;
const longestPause = 30_000;
/** More deaths than this within {@link span} (milliseconds) are no accident any more. */
const mostDeaths = 6;
const span = 180_000;
/** Between two looks whether an obstacle is still there, in milliseconds. */
const lookEvery = 1_000;

/**
 * A part of the application that was started.
 * @typedef {{ readonly child: import('node:child_process').ChildProcess, readonly stop: () => Promise<void> }} StartedPart
 */

/**
 * Keeps a part of the application running. `begin` starts it and resolves with `{ child, stop }` once it is ready; that it
 * cannot be started the first time is thrown. Later, when it ends by itself, it is started again with growing pauses, each
 * reported in one line; when it ends again and again, `giveUp` gets the reason, once. `obstacle` says what keeps it from running, if anything
 * does: that is waited out, however long it takes, and counts as nothing that it could help.
 * @param {string} name
 * @param {() => Promise<StartedPart>} begin
 * @param {(reason: string) => void} giveUp
 * @param {() => Promise<string | undefined>} obstacle
 */
export async function supervise(name, begin, giveUp, obstacle = async () => undefined) {
  /** @type {number[]} */
  const deaths = [];
  let stopping = false;
  let wake = () => {};
  let running = await begin();

  const watch = () => {
    const { child } = running;
    const ended = () => {
      if (!stopping) void revive(child.signalCode ?? `code ${child.exitCode}`);
    };
    if (child.exitCode !== null || child.signalCode !== null) ended();
    else child.once('exit', ended);
  };
  const pauseFor = (/** @type {number} */ time) =>
    new Promise((/** @type {(value?: undefined) => void} */ done) => {
      wake = done;
      setTimeout(done, time);
    });
  const waitedOut = async (/** @type {string} */ how) => {
    let wasThere = false;
    for (let what = await obstacle(); what && !stopping; what = await obstacle()) {
      if (!wasThere) console.error(`${name} ended (${how}): ${what}. It is started again once that is over.`);
      wasThere = true;
      await pauseFor(lookEvery);
    }
    return wasThere;
  };
  /** Pauses before it is started again; false where it ended too often for that. */
  const pausedFor = async (/** @type {string} */ how) => {
    const now = Date.now();
    deaths.push(now);
    while (deaths[0] !== undefined && deaths[0] < now - span) deaths.shift();
    if (deaths.length > mostDeaths) {
      giveUp(`${name} ended ${deaths.length} times within ${span / 60_000} minutes, the last time with ${how}.`);
      return false;
    }
    const pause = Math.min(longestPause, firstPause * 2 ** (deaths.length - 1));
    console.error(`${name} ended by itself (${how}); it is started again in ${pause / 1000} s.`);
    await pauseFor(pause);
    return true;
  };
  const revive = async (/** @type {string} */ reason) => {
    for (let how = reason; ; ) {
      if (await waitedOut(how)) deaths.length = 0;
      else if (!(await pausedFor(how))) return;
      if (stopping) return;
      try {
        running = await begin();
        if (stopping) await running.stop();
        else watch();
        return;
      } catch (error) {
        how = error instanceof Error ? error.message : String(error);
      }
    }
  };
  watch();
  return {
    stop: async () => {
      stopping = true;
      wake();
      await running.stop();
    },
  };
}
