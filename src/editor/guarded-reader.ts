import {
  AbstractMessageReader,
  Disposable,
  ErrorCodes,
  type DataCallback,
  type Message,
} from 'vscode-languageserver/node';
import { Door, type Refusal } from './admission.js';
import { Frames } from './frames.js';

/** Reads messages from a stream, and answers what is no message, or out of place, with the protocol's own errors. */
export class GuardedReader extends AbstractMessageReader {
  private readonly frames = new Frames();
  private readonly door = new Door();

  /** @param refuse told of each message that is answered with an error */
  constructor(
    private readonly input: NodeJS.ReadableStream,
    private readonly refuse: (refusal: Refusal) => void,
  ) {
    super();
  }

  listen(callback: DataCallback): Disposable {
    const take = (chunk: Buffer) => {
      for (const frame of this.frames.add(chunk)) {
        if ('fault' in frame) {
          this.refuse({ id: null, code: ErrorCodes.ParseError, message: frame.fault });
          continue;
        }
        const admission = this.door.admit(frame.value);
        if (admission === 'taken') callback(frame.value as Message);
        else if (admission !== 'dropped') this.refuse(admission);
      }
    };
    this.input.on('data', take);
    this.input.on('error', (error: Error) => {
      this.fireError(error);
    });
    this.input.on('close', () => {
      this.fireClose();
    });
    return Disposable.create(() => this.input.off('data', take));
  }
}
