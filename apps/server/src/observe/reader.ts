import { linesIn, planes, spell, warp, wordsRead, type Line, type Pixels, type Spelt } from '@gemmel/core';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import * as ort from 'onnxruntime-node';
import sharp from 'sharp';
import { openNet } from './nets';

/** The long side at which writing is looked for. */
const LONG = 640;
/** The long side at which it is looked for again where there is some: small print is found there. */
const AGAIN = 1280;
/** The height at which a line is read, and the most it may be wide, in pixels. */
const HEIGHT = 48;
const WIDEST = 1600;
/** Lines of one picture that are read at most: a page of a book is enough to find it by. */
const MOST = 60;
/** What the finding net was taught on: the mean and the spread of each colour, in bytes. */
const MEAN = [123.675, 116.28, 103.53] as const;
const SPREAD = [58.395, 57.12, 57.375] as const;

/** Reads the writing in pictures with two small networks: one finds lines, one reads a line. One belongs to one thread. */
export class Reader {
  private constructor(
    private readonly finder: ort.InferenceSession,
    private readonly speller: ort.InferenceSession,
    private readonly letters: readonly string[],
  ) {}

  /** Loads the weights from a folder. */
  static async load(models: string): Promise<Reader> {
    return new Reader(
      await openNet(path.join(models, 'lines.onnx')),
      await openNet(path.join(models, 'letters.onnx')),
      readFileSync(path.join(models, 'letters.txt'), 'utf8').split('\n').filter(Boolean),
    );
  }

  /** What can be read in a picture, a line each; empty when there is nothing to read. */
  async read(image: Pixels): Promise<string> {
    const first = await this.find(image, LONG);
    if (first.length === 0) return '';
    const long = Math.max(image.width, image.height);
    const second = long > LONG * 1.2 ? await this.find(image, Math.min(AGAIN, long)) : first;
    const lines = second.length >= first.length ? second : first;
    const spelt: Spelt[] = [];
    for (const line of lines.slice(0, MOST)) spelt.push(await this.spell(image, line));
    return wordsRead(spelt);
  }

  /** Lines of writing in a picture looked at with a long side of so many pixels; in pixels of the picture. */
  private async find(image: Pixels, long: number): Promise<Line[]> {
    const k = Math.min(1, long / Math.max(image.width, image.height));
    // The net halves its input five times.
    const width = Math.max(32, Math.round((image.width * k) / 32) * 32);
    const height = Math.max(32, Math.round((image.height * k) / 32) * 32);
    const data = await sharp(image.data, { raw: { width: image.width, height: image.height, channels: 3 } })
      .resize(width, height, { fit: 'fill', kernel: 'linear' })
      .raw()
      .toBuffer();
    const input = new Float32Array(3 * width * height);
    for (let c = 0; c < 3; c++)
      for (let i = 0; i < width * height; i++)
        input[c * width * height + i] = (data[3 * i + 2 - c]! - MEAN[c]!) / SPREAD[c]!;
    const out = await this.finder.run({
      [this.finder.inputNames[0]!]: new ort.Tensor('float32', input, [1, 3, height, width]),
    });
    const map = out[this.finder.outputNames[0]!]!.data as Float32Array;
    const [kx, ky] = [image.width / width, image.height / height];
    const mean = (kx + ky) / 2;
    return linesIn(map, width, height).map((line) => ({
      ...line,
      middle: [line.middle[0] * kx, line.middle[1] * ky],
      width: line.width * mean,
      height: line.height * mean,
    }));
  }

  /** What one line says. Writing that stands upright is turned; upside down it is not read. */
  private async spell(image: Pixels, line: Line): Promise<Spelt> {
    const upright = line.height > 1.5 * line.width;
    const [along, across] = upright ? [line.height, line.width] : [line.width, line.height];
    const angle = upright ? line.angle + Math.PI / 2 : line.angle;
    const k = HEIGHT / across;
    const width = Math.max(16, Math.min(WIDEST, Math.ceil(along * k)));
    const [a, b] = [Math.cos(-angle) * k, Math.sin(-angle) * k];
    const [x, y] = line.middle;
    const cut = warp(image, { a, b, tx: width / 2 - a * x + b * y, ty: HEIGHT / 2 - b * x - a * y }, width, HEIGHT);
    const out = await this.speller.run({
      [this.speller.inputNames[0]!]: new ort.Tensor('float32', planes(cut, 127.5, 1 / 127.5, { bgr: true }), [
        1,
        3,
        HEIGHT,
        width,
      ]),
    });
    const { data, dims } = out[this.speller.outputNames[0]!]!;
    return spell(data as Float32Array, dims[1]!, this.letters);
  }
}
