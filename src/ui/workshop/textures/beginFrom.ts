import { toast } from 'svelte-sonner';
import { beginTexture } from '#core/edits/beginTexture.ts';
import { newId } from '../../parts/newId.ts';
import { keepBlob } from '../keepBlob.ts';
import { take } from '../parts/doToPart.ts';
import type { Session } from '../state/session.svelte.ts';

/** Kinds of file that a texture is begun with. */
export const PICTURES = ['.png', '.jpg', '.jpeg', '.webp', '.exr', '.hdr'] as const;
export const isPicture = ({ name }: File): boolean =>
  PICTURES.some((ending) => name.toLowerCase().endsWith(ending));

/** Begins a texture with each picture that is brought; floats stay floats. */
export const importPictures = async (session: Session, files: readonly File[]): Promise<void> => {
  for (const file of files)
    try {
      const picture = await keepBlob(file, file.name);
      const isFloat = /\.(exr|hdr)$/i.test(file.name);
      const name = file.name.replace(/\.[^.]*$/, '').trim() || 'Picture';
      const kept = { holds: 'color', ...(isFloat ? { bits: 32 } : {}) } as const;
      await take(session, `Import ${file.name}`, () =>
        beginTexture(session.parts, name, { step: 'picture', words: { picture } }, kept, newId),
      );
    } catch (error) {
      toast.error((error as Error).message);
    }
};

/** Begins a texture with what a shader shows, or one of its strands. */
export const beginFromSurface = (session: Session, name: string, of: string): Promise<string | null> =>
  take(session, `New texture from ${name}`, () =>
    beginTexture(session.parts, name, { step: 'shader', words: { of } }, {}, newId),
  );
