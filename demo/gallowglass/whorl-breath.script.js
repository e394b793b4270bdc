// The whorl winds and unwinds as if it breathed. Space throws it open, Space again lets it rest.
const whorl = material('Whorl');
const calm = whorl.strength;
const dim = whorl.core;
let wide = 0;
let wanted = 0;
let seconds = 0;

onKey('Space', () => {
  wanted = 1 - wanted;
  log(wanted > 0 ? 'open' : 'at rest');
});

onTick((dt) => {
  seconds += dt;
  wide = wide + clamp(wanted - wide, -dt, dt);
  whorl.strength = calm + 0.35 * Math.sin(seconds * 0.9) + 1.2 * wide;
  whorl.core = dim * (1 + 1.5 * wide);
});
