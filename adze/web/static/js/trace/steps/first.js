// What is done where a search begins, before anybody walks (search.py).

const isRods = ({ number }) => number < 0;

/** Whether anything was read where the person stands. */
const isReadHere = ({ readings, here }) => readings.some(({ reading }) => reading.place.number === here);

/** Whether the person stands at the start, where nothing has been read yet. */
export const isUnread = (search) =>
  !search.finds && !search.skipped.length && !isReadHere(search) && search.here === search.fence.start;

/** Whether the rods come next: after the first reading, where they are. */
export function asksRods(search) {
  const { finds, readings, skipped, here, fence } = search;
  const isRead = skipped.some(isRods) || readings.some(({ reading }) => isRods(reading.place));
  return here === fence.start && isReadHere(search) && !isRead && !finds && fence.rods_ohm > 0;
}
