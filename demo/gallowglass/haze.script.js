// O takes the haze away and brings it back, so that one sees what it does for the passage.
const haze = material('Teal haze');
const thick = haze.density;
let wanted = thick;

onKey('KeyO', () => {
  wanted = wanted > 0 ? 0 : thick;
  log(wanted > 0 ? 'haze' : 'no haze');
});

onTick((dt) => {
  haze.density = haze.density + clamp(wanted - haze.density, -dt, dt);
});
