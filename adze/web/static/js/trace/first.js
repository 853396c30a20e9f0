// What is done where a search begins, before anybody walks (search.py).

/** Whether the person stands at the start and has read nothing yet. */
export const isUnread = ({ finds, readings, skipped, here, fence }) =>
  !finds && !readings.length && !skipped.length && here === fence.start;

/** Whether the rods come next: after the first reading, where they are. */
export function asksRods({ finds, readings, skipped, here, fence }) {
  const isFirst = readings.length === 1 && readings[0].reading.place.number === here && here === fence.start;
  return isFirst && !finds && fence.rods_ohm > 0 && !skipped.some(({ number }) => number < 0);
}
