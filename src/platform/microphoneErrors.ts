/** Why the microphone was not to be had, in a sentence that says what to do. */
export class MicrophoneError extends Error {
  readonly name = 'MicrophoneError';
}

/** Names of the exceptions: W3C Media Capture and Streams, getUserMedia(). */
export function microphoneSentence(e: unknown): string {
  switch (e instanceof Error ? e.name : '') {
    case 'NotAllowedError':
      return 'The browser does not let Scrivo use the microphone, so nothing is being recorded. You can write; to record, allow the microphone in the site settings beside the address and press Record again.';
    case 'NotFoundError':
    case 'OverconstrainedError':
      return 'No microphone was found, so nothing is being recorded. You can write; to record, connect a microphone and press Record again.';
    case 'NotReadableError':
      return 'The microphone is in use by another program or does not answer, so nothing is being recorded. Close that program and press Record again.';
    default:
      return `The microphone could not be opened (${e instanceof Error ? e.message : 'unknown reason'}). You can write; press Record to try again.`;
  }
}
