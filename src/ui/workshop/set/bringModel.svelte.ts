import { toast } from 'svelte-sonner';
import type { KeptPiece } from '#core/edits/modelEdits.ts';
import { showModel } from '#core/edits/modelEdits.ts';
import type { FromReader, PackedPiece, ToReader } from '#stage/model/model.worker.ts';
import { newId } from '../../parts/newId.ts';
import { keepBlob } from '../keepBlob.ts';
import type { Session } from '../state/session.svelte.ts';

/** All files of a model together. */
const LARGEST = 128 * 1024 * 1024;

/** Brings models from files onto the set: read in a worker, kept on the server, stood on the set in one deed. */
export const createBringing = (session: Session) => {
  /** What is being brought, and the share that is done. */
  let now = $state.raw<{ readonly file: string; readonly share: number } | null>(null);
  let worker: Worker | null = null;
  let round = 0;

  const read = (files: ToReader, file: string): Promise<Extract<FromReader, { pieces: unknown }>> =>
    new Promise((resolve, reject) => {
      worker = new Worker(new URL('../../../stage/model/model.worker.ts', import.meta.url), {
        type: 'module',
      });
      worker.onmessage = ({ data }: MessageEvent<FromReader>) => {
        if ('share' in data) now = { file, share: data.share };
        else if ('refused' in data) reject(new Error(data.refused));
        else resolve(data);
      };
      worker.onerror = (event) => {
        event.preventDefault();
        reject(new Error(`${file} stopped its reader: ${event.message || 'it may be too large.'}`));
      };
      worker.postMessage(files);
    });
  const stop = (): void => {
    round += 1;
    worker?.terminate();
    worker = null;
    now = null;
  };
  const keepPiece = async (piece: PackedPiece, notes: string[]): Promise<KeptPiece> => {
    const { glb, picture, ...rest } = piece;
    const blob = await keepBlob(glb, `The mesh of ${piece.name}`);
    let kept: string | null = null;
    try {
      if (picture) kept = await keepBlob(picture as Uint8Array<ArrayBuffer>, `The picture of ${piece.name}`);
    } catch (error) {
      notes.push((error as Error).message);
    }
    return { ...rest, blob, picture: kept };
  };

  return {
    get now() {
      return now;
    },
    cancel: stop,
    bring: async (chosen: readonly File[]): Promise<void> => {
      const { stage } = session;
      if (!stage) return void toast.error('There is no set to put it on; begin one from the project’s list.');
      stop();
      const mine = round;
      const file = chosen.find((each) => /\.(glb|gltf|obj)$/i.test(each.name))?.name ?? chosen[0]!.name;
      const size = chosen.reduce((sum, each) => sum + each.size, 0);
      if (size > LARGEST)
        return void toast.error(`${file} and what comes with it are larger than ${LARGEST / 1048576} MB.`);
      now = { file, share: 0 };
      try {
        const files = await Promise.all(
          chosen.map(async (each) => [each.name, new Uint8Array(await each.arrayBuffer())] as const),
        );
        const { pieces, notes } = await read(files, file);
        const told = [...notes];
        const kept: KeptPiece[] = [];
        for (const piece of pieces) {
          if (mine !== round) return;
          kept.push(await keepPiece(piece, told));
        }
        const isTaken = await session.inTurn(async () => {
          if (mine !== round || !session.stage) return false;
          const { changes, props } = showModel(session.parts, session.stage, file, kept, newId);
          await session.commit(`Import ${file}`, changes);
          session.holdProps(props);
          return true;
        });
        if (!isTaken) return;
        const triangles = kept.reduce((sum, each) => sum + each.triangles, 0);
        const count = kept.length === 1 ? 'one prop' : `${kept.length} props`;
        toast(`${file}: ${count}, ${triangles.toLocaleString('en')} triangles.`, {
          ...(told.length ? { description: told.join(' '), duration: 15_000 } : {}),
        });
      } catch (error) {
        if (mine === round) toast.error((error as Error).message, { duration: 12_000 });
      } finally {
        if (mine === round) stop();
      }
    },
  };
};
export type Bringing = ReturnType<typeof createBringing>;
