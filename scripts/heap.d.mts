/** Options of Node.js for the engine's process. */
export const engineHeap: readonly string[];
