import { Zip, ZipPassThrough } from 'fflate';

/** Takes the pictures of a film one after another, and hands over a file once it has all of them. */
export interface FrameSink {
  readonly add: (picture: Blob, i: number) => Promise<void>;
  /** @returns null where nothing is to be kept */
  readonly finish: (isWhole: boolean) => Promise<{ readonly blob: Blob; readonly ending: string } | null>;
}

/** Each picture as a PNG of its own, in one .zip. */
export const pngSink = (name: string): FrameSink => {
  const parts: Uint8Array<ArrayBuffer>[] = [];
  const zip = new Zip((error, chunk) => {
    if (!error) parts.push(chunk.slice());
  });
  return {
    add: async (picture, i) => {
      const file = new ZipPassThrough(`${name}-${String(i).padStart(5, '0')}.png`);
      zip.add(file);
      file.push(new Uint8Array(await picture.arrayBuffer()), true);
    },
    finish: async (isWhole) => {
      zip.end();
      return isWhole ? { blob: new Blob(parts, { type: 'application/zip' }), ending: '-frames.zip' } : null;
    },
  };
};

/** Codecs of an open format, the best first. */
const CODECS = ['vp9', 'vp8', 'av1'] as const;

/** One film, each picture as long as the next. @throws Error where this browser encodes none of its codecs */
export const webmSink = async (perSecond: number): Promise<FrameSink> => {
  const { BufferTarget, CanvasSource, Output, QUALITY_HIGH, WebMOutputFormat, getFirstEncodableVideoCodec } =
    await import('mediabunny');
  const codec = await getFirstEncodableVideoCodec([...CODECS], { width: 640, height: 360 });
  if (!codec)
    throw new Error(
      'This browser encodes no film of an open format; take the frames as PNG, or open the project in another.',
    );
  const canvas = new OffscreenCanvas(2, 2);
  const context = canvas.getContext('2d')!;
  const target = new BufferTarget();
  const output = new Output({ format: new WebMOutputFormat(), target });
  let source: InstanceType<typeof CanvasSource> | null = null;
  return {
    add: async (picture, i) => {
      const bitmap = await createImageBitmap(picture);
      if (!source) {
        // Its colours are kept at half the size: an odd line at the edge is left out.
        canvas.width = bitmap.width & ~1;
        canvas.height = bitmap.height & ~1;
        source = new CanvasSource(canvas, { codec, bitrate: QUALITY_HIGH });
        output.addVideoTrack(source, { frameRate: perSecond });
        await output.start();
      }
      context.drawImage(bitmap, 0, 0);
      bitmap.close();
      await source.add(i / perSecond, 1 / perSecond);
    },
    finish: async (isWhole) => {
      if (!source) return null;
      if (!isWhole) {
        await output.cancel();
        return null;
      }
      await output.finalize();
      return target.buffer
        ? { blob: new Blob([target.buffer], { type: 'video/webm' }), ending: '.webm' }
        : null;
    },
  };
};
