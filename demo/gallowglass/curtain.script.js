// Space lights the curtain; Space again, even mid-way, and it mends.
// N weaves another order: a new seed and a new period.
const curtain = material('Velvet, house left');
let direction = 0;

onKey('Space', () => {
  direction = direction > 0 || (direction === 0 && curtain.burn >= 1) ? -1 : 1;
  log(direction > 0 ? 'burning' : 'mending');
});

onKey('KeyN', () => {
  curtain.seed = random.integer(0, 9999);
  curtain.period = random.integer(3, 16);
});

onTick((dt) => {
  curtain.burn = clamp(curtain.burn + direction * curtain.speed * dt, 0, 1);
});
