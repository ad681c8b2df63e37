/**
 * How the engine's process has its heap. What its workers report to it lives for a moment and comes by the megabyte:
 * with little room for what is young it would be copied again and again, which takes as long again as learning from it. An engine
 * with nothing to do would have that room taken away, and then spend most of its time collecting what little it makes.
 */
export const engineHeap = [
  '--max-semi-space-size=32',
  '--min-semi-space-size=16',
  '--heap-growing-percent=300',
  '--interrupt-budget=270336',
];
