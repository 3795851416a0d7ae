import { StringDecoder } from 'node:string_decoder';

/** Cuts bytes that come in pieces into lines; a long line costs no more than its length. */
export class LineSplitter {
  private readonly decoder = new StringDecoder('utf8');
  /** The pieces of the line that has not ended yet. */
  private begun: string[] = [];

  /** Takes the next bytes, and gives the lines that ended in them. */
  take(bytes: Uint8Array): string[] {
    const [first = '', ...others] = this.decoder.write(bytes).split('\n');
    this.begun.push(first);
    const last = others.pop();
    if (last === undefined) return [];
    const lines = [this.begun.join(''), ...others];
    this.begun = [last];
    return lines;
  }

  /** The text after the last line break. */
  rest(): string {
    return this.begun.join('') + this.decoder.end();
  }
}
