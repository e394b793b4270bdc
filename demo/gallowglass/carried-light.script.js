// The light goes along the wall and back, as if somebody carried it. Space holds it where it is.
const mural = material('Painted mural');
const home = mural.point;
let going = 1;
let along = 0;

onKey('Space', () => {
  going = going > 0 ? 0 : 1;
  log(going > 0 ? 'carried' : 'held');
});

onTick((dt) => {
  along += dt * going;
  mural.point = [home[0] + Math.sin(along * 0.7) * 2.2, home[1] + Math.sin(along * 1.3) * 0.25, home[2]];
});
