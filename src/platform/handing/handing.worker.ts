/** Makes the files that take a while: PDF, film, and sound that has to be encoded. Away from the thread that answers the hand. */
import { expose } from 'comlink';
import { AudioSample, AudioSampleSource, FlacOutputFormat, Mp3OutputFormat, WavOutputFormat } from 'mediabunny';
import { registerFlacEncoder } from '@mediabunny/flac-encoder';
import { registerMp3Encoder } from '@mediabunny/mp3-encoder';
import { writePdf } from '../../core/formats/pdf/document';
import { PASSED, passedOn } from '../../core/formats/sound';
import { outputToBlob } from '../../core/formats/webmFile';
import { decodeAll, RATE } from './decoding';
import { docxOf } from './docxOf';
import { filmOf } from './film';
import type { HandingWork } from './handingWork';

/** Of MP3, bits per second: speech in full. */
const MP3_BITRATE = 96_000;
/** Delay of its encoder and decoder, samples: 576 and 529 (LAME; common practice, no standard). */
const MP3_DELAY = 576 + 529;
const encodedAs = {
  wav: () => new WavOutputFormat(),
  mp3: () => new Mp3OutputFormat(),
  flac: () => new FlacOutputFormat(),
} as const;

const work: HandingWork = {
  docx: (document) => docxOf(document),

  film: filmOf,

  pdf: (book, progress) => writePdf(book, (share) => void progress(share)),

  async sound(format, next, head, tags, length, progress) {
    const told: typeof next = async () => {
      const some = await next();
      if (some?.length && length > 0) await progress(Math.min(1, some[some.length - 1].t / length));
      return some;
    };
    if ((PASSED as readonly string[]).includes(format)) return passedOn(format as (typeof PASSED)[number], told, head, tags);
    const kind = format as keyof typeof encodedAs;
    if (kind === 'mp3') registerMp3Encoder();
    if (kind === 'flac') registerFlacEncoder();
    const { output, blob } = outputToBlob(encodedAs[kind]());
    output.setMetadataTags({ title: tags.title, date: new Date(tags.date) });
    const source = new AudioSampleSource(kind === 'wav' ? { codec: 'pcm-s16' } : kind === 'mp3' ? { codec: 'mp3', bitrate: MP3_BITRATE } : { codec: 'flac' });
    output.addAudioTrack(source);
    await output.start();
    let samples = 0;
    // What an MP3 has before its sound no head says here: so much of the beginning makes room for it.
    await decodeAll(
      told,
      head,
      async ({ planes, frames, channels }) => {
        const sample = new AudioSample({ format: 'f32-planar', sampleRate: RATE, numberOfChannels: channels, timestamp: samples / RATE, data: planes });
        samples += frames;
        await source.add(sample);
        sample.close();
      },
      kind === 'mp3' ? MP3_DELAY : 0,
    );
    if (!samples) {
      await output.cancel();
      return null;
    }
    await output.finalize();
    return blob();
  },
};

expose(work);
