// The lamp is carried round the saint: behind it the wax glows, before it there is nothing to see of that. Space holds the
// lamp; P turns the wax to plaster and back.
const lamp = prop('Lamp');
const wax = material('Saint’s wax');
const home = lamp.position;
const out = Math.hypot(home[0], home[2]);
let turn = Math.atan2(home[0], home[2]);
let going = 1;

onKey('Space', () => {
  going = 1 - going;
});
onKey('KeyP', () => {
  wax.wax = wax.wax > 0.5 ? 0 : 1;
  log(wax.wax > 0.5 ? 'wax' : 'plaster');
});

onTick((dt) => {
  turn += dt * going * 0.7;
  lamp.position = [Math.sin(turn) * out, home[1] + Math.sin(turn * 2) * 0.08, Math.cos(turn) * out];
});
