import { isScore, unpackCompilation } from '#core/compileParts.ts';
import type { Compilation } from '#core/compileShader.ts';
import type { Project } from '#core/document/project.ts';
import { connectCompiler, type ConnectCompiler } from './connectCompiler.ts';

/**
 * What a project's shaders and motifs compile to, once, worked out in a worker.
 * @throws Error where the compiler stops
 */
export const compileElsewhere = (
  project: Project,
  connect: ConnectCompiler = connectCompiler,
): Promise<ReadonlyMap<string, Compilation>> =>
  new Promise((resolve, reject) => {
    const made = new Map<string, Compilation>();
    const parts = project.parts.filter(isScore);
    const line = connect(
      (message) => {
        if (message.type === 'compiled') made.set(message.id, unpackCompilation(message.compilation));
        else if (message.version === parts.length) {
          line.close();
          resolve(made);
        }
      },
      (why) => {
        line.close();
        reject(new Error(`The compiler stopped: ${why}`));
      },
    );
    if (!parts.length) {
      line.close();
      resolve(made);
    }
    // Motifs first: what uses them is compiled with them.
    const motifsFirst = parts.toSorted((a, b) => Number(b.kind === 'motif') - Number(a.kind === 'motif'));
    motifsFirst.forEach((part, i) => line.send({ type: 'compile', part, version: i + 1 }));
  });
