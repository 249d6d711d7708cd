const PIECE = 32_768;

/** Bytes as base64, in pieces: a call takes only so many arguments. */
export function base64Of(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += PIECE) {
    text += String.fromCharCode(...bytes.subarray(i, i + PIECE));
  }
  return btoa(text);
}

/** The bytes of a base64 text. */
export function bytesOf(text: string): Uint8Array<ArrayBuffer> {
  const raw = atob(text);
  const bytes = new Uint8Array(raw.length);
  for (let i = 0; i < raw.length; i++) {
    bytes[i] = raw.charCodeAt(i);
  }
  return bytes;
}

/** What a parcel of streams is called as a file. */
export function parcelName(streams: string[]): string {
  const first = (streams[0] ?? 'purser').replace(/[^a-z0-9]+/g, '-');
  return `${first}${streams.length > 1 ? `-and-${streams.length - 1}` : ''}.parcel`;
}
