// Whether stretches cross, on a picture; knows no page. Points are {x, y}, boxes [left, top, right, bottom].

/** @typedef {{ x: number, y: number }} Point */

const turn = (a, b, c) => Math.sign((b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x));
/** Whether two stretches cross. @type {(one: Point[], other: Point[]) => boolean} */
export const cross = ([a, b], [c, d]) => turn(a, b, c) !== turn(a, b, d) && turn(c, d, a) !== turn(c, d, b);
/** Whether a stretch runs through a box. @type {(leader: Point[], box: number[]) => boolean} */
export const cuts = (leader, [left, top, right, bottom]) =>
  cross(leader, [
    { x: left, y: top },
    { x: right, y: bottom },
  ]) ||
  cross(leader, [
    { x: right, y: top },
    { x: left, y: bottom },
  ]);
