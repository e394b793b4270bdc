// The shimmer swells and dies as a draught goes along the footlights. Space draws the offset itself, and the cloth again.
const cloth = material('Footlit cloth');
const strength = cloth.strength;
let at = 0;

onKey('Space', () => {
  cloth.showOffset = cloth.showOffset > 0.5 ? 0 : 1;
  log(cloth.showOffset > 0.5 ? 'the offset' : 'the cloth');
});

onTick((dt) => {
  at += dt;
  cloth.strength = strength * (1 + 0.45 * Math.sin(at * 0.8) * Math.sin(at * 0.31));
});
