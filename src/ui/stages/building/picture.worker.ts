// A large picture is read and made grey here, so that the page does not wait.
import { greyOf, type Picture } from '@/core/finding/picture';

/** What is wanted of a picture, by its address or drawn already: what is cut off at each side of it, and how many pixels at most. */
export type PictureAsked = Readonly<{
  of: string | ImageBitmap;
  crop: Readonly<{ leftPx: number; topPx: number; rightPx: number; bottomPx: number }>;
  mostPx: number;
}>;
export type PictureAnswer = Readonly<{ picture: Picture; perPx: number } | { problem: string }>;

async function had(url: string): Promise<ImageBitmap> {
  const response = await fetch(url);
  if (!response.ok) throw new Error(`the server answered ${response.status}`);
  return createImageBitmap(await response.blob());
}

async function read({ of, crop, mostPx }: PictureAsked): Promise<PictureAnswer & { picture: Picture }> {
  const whole = typeof of === 'string' ? await had(of) : of;
  const perPx = Math.min(1, Math.sqrt(mostPx / (whole.width * whole.height)));
  const [widthPx, heightPx] = [Math.round(whole.width * perPx), Math.round(whole.height * perPx)];
  const context = new OffscreenCanvas(widthPx, heightPx).getContext('2d', { willReadFrequently: true })!;
  context.imageSmoothingQuality = 'high';
  context.fillStyle = '#fff';
  context.fillRect(0, 0, widthPx, heightPx);
  const { leftPx, topPx, rightPx, bottomPx } = crop;
  const [seenX, seenY] = [whole.width - leftPx - rightPx, whole.height - topPx - bottomPx];
  context.drawImage(whole, leftPx, topPx, seenX, seenY, leftPx * perPx, topPx * perPx, seenX * perPx, seenY * perPx);
  whole.close();
  return { picture: greyOf(context.getImageData(0, 0, widthPx, heightPx).data, widthPx, heightPx), perPx };
}

const scope = self as unknown as {
  onmessage: (event: MessageEvent<PictureAsked>) => void;
  postMessage(message: unknown, transfer?: Transferable[]): void;
};
scope.onmessage = ({ data }) =>
  void read(data).then(
    (answer) => scope.postMessage(answer, [answer.picture.grey.buffer as ArrayBuffer]),
    (error: Error) => scope.postMessage({ problem: error.message }),
  );
