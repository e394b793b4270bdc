// The gleam crosses by itself. Space turns it to lean the other way.
const gilding = material('Gilding');
const lean = gilding.slant;
let way = 1;

onKey('Space', () => {
  way = -way;
  log(way > 0 ? 'to the right' : 'to the left');
});

onTick((dt) => {
  const wanted = way > 0 ? lean : 1 - lean;
  gilding.slant = gilding.slant + clamp(wanted - gilding.slant, -dt, dt);
});
