// The damp creeps along the wall and draws back; what is soft breathes with it. Space lets it swell sideways only, and again.
const wall = material('Damp plaster');
const mass = material('Soft mass');
const reach = wall.range;
const swell = mass.swell;
let at = 0;

onKey('Space', () => {
  mass.sideways = !mass.sideways;
  log(mass.sideways ? 'sideways only' : 'every way');
});

onTick((dt) => {
  at += dt;
  wall.range = reach * (1 + 0.35 * Math.sin(at * 0.9));
  mass.swell = swell * (1 + 0.5 * Math.sin(at * 1.7));
});
