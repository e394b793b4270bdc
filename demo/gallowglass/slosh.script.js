// The lamp swings on its chain, and its oil follows by a spring of the set. Space, or a click on the glass, pushes it.
const chain = prop('Chain');
const glass = prop('Glass');
const [upright, , hangs] = chain.rotation;
const along = spring({ stiffness: 8.5, damping: 0.35, limit: 40, value: hangs });
const across = spring({ stiffness: 8.5, damping: 0.35, limit: 40, value: 0 });

const push = () => {
  along.velocity += random.between(-70, 70);
  across.velocity += random.between(-40, 40);
  log('pushed');
};
onKey('Space', push);
onClick(glass, push);

onTick((dt) => {
  chain.rotation = [upright + across.step(dt), 0, along.step(dt)];
});
