/** How what was entered stands: all saved, on its way, or kept here. */
export function queueWords(
  queue: { waiting: readonly unknown[]; status: 'saved' | 'saving' | 'kept' },
  allSaved: string,
): string {
  const n = queue.waiting.length
  if (queue.status === 'saved') return allSaved
  return queue.status === 'saving' ? `Saving ${n}…` : `${n} kept here, not sent yet`
}
