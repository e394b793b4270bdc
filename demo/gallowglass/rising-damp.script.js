// Water rises in the plaster and sinks away. Space reads the masks that were baked, and reckons them again: it looks the same.
const wall = material('Seeping plaster, wet');
const flood = wall.flood;
let at = 0;

onKey('Space', () => {
  wall.baked = wall.baked > 0.5 ? 0 : 1;
  log(wall.baked > 0.5 ? 'baked' : 'reckoned');
});

onTick((dt) => {
  at += dt;
  wall.flood = flood * (0.5 - 0.5 * Math.cos(at * 0.6));
});
