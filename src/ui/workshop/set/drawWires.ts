import { broughtFor, coarse, makeMesh, type MeshRecipe } from '#core/meshes/makeMesh.ts';

/** Lines enough to tell a mesh by, few enough to be told apart. */
const FEW = 10;
const MOST = 1500;
/** Seen from a little above and to the right. */
const [TURN, TILT] = [0.6, 0.42];

/** Draws a mesh’s triangles as thin lines, to fill a square canvas. */
export const drawWires = (canvas: HTMLCanvasElement, recipe: MeshRecipe, colour: string): void => {
  const pen = canvas.getContext('2d');
  if (!pen) return;
  // The stage brings letters too; whichever is first, they are drawn once they are here.
  const brought = broughtFor(recipe);
  if (brought?.what === 'letters' && !brought.isHere)
    void import('#core/letters/faces.ts').then(({ faceNamed }) => {
      faceNamed(brought.blob);
      drawWires(canvas, recipe, colour);
    });
  const side = canvas.width;
  const { positions, indices } = makeMesh(coarse(recipe, FEW));
  const [cosT, sinT, cosX, sinX] = [Math.cos(TURN), Math.sin(TURN), Math.cos(TILT), Math.sin(TILT)];
  const points = Array.from({ length: positions.length / 3 }, (_, i): [number, number] => {
    const [x, y, z] = [positions[i * 3]!, positions[i * 3 + 1]!, positions[i * 3 + 2]!];
    const [across, away] = [x * cosT - z * sinT, x * sinT + z * cosT];
    return [across, -(y * cosX - away * sinX)];
  });
  const of = (axis: 0 | 1) => points.map((each) => each[axis]);
  const ends = ([0, 1] as const).map((axis) =>
    of(axis).reduce(([a, b], x) => [Math.min(a!, x), Math.max(b!, x)], [Infinity, -Infinity]),
  );
  const size = Math.max(...ends.map(([a, b]) => b! - a!)) || 1;
  const scale = (side * 0.86) / size;
  const middle = ends.map(([a, b]) => (a! + b!) / 2);
  const at = (i: number): [number, number] => [
    side / 2 + (points[i]![0] - middle[0]!) * scale,
    side / 2 + (points[i]![1] - middle[1]!) * scale,
  ];
  pen.clearRect(0, 0, side, side);
  pen.strokeStyle = colour;
  pen.lineWidth = side / 90;
  pen.beginPath();
  // Of a mesh that is finer than can be told apart, one triangle in so many.
  const stride = Math.max(1, Math.floor(indices.length / 3 / MOST)) * 3;
  for (let i = 0; i < indices.length; i += stride) {
    pen.moveTo(...at(indices[i]!));
    pen.lineTo(...at(indices[i + 1]!));
    pen.lineTo(...at(indices[i + 2]!));
    pen.closePath();
  }
  pen.stroke();
};
