// The lamp goes along the wall and back, as if somebody carried it; the light on the wall follows it by a rule of the set.
// Space holds it where it is. E kindles it and Q dims it: those are cues.
const lamp = prop('Lamp foot');
const home = lamp.position;
let going = 1;
let along = 0;

onKey('Space', () => {
  going = going > 0 ? 0 : 1;
  log(going > 0 ? 'carried' : 'held');
});

onTick((dt) => {
  along += dt * going;
  lamp.position = [
    home[0] + Math.sin(along * 0.7) * 1.6 - 0.7,
    home[1],
    home[2] + Math.sin(along * 1.3) * 0.12,
  ];
});
