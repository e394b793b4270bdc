// The fire draws breath: the air wavers more as it does. H tears the air, or lets it be soft.
const heat = material('Rising heat');
const calm = heat.strength;
let fierce = 0;
let wanted = 0;
let seconds = 0;

onKey('KeyH', () => {
  wanted = 1 - wanted;
  log(wanted > 0 ? 'harsh' : 'soft');
});

onTick((dt) => {
  seconds += dt;
  fierce = fierce + clamp(wanted - fierce, -dt, dt);
  heat.harsh = fierce;
  heat.strength = calm * (1 + 0.4 * Math.sin(seconds * 1.9));
});
