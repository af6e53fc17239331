import {
  createConnection,
  ErrorCodes,
  Message,
  ProposedFeatures,
  ResponseError,
  StreamMessageReader,
  StreamMessageWriter,
  type Connection,
} from 'vscode-languageserver/node';

/** Where requests are led that may not be asked now; no client knows the name. */
const REFUSED = '$/zeitwort/refused';
/** A notification that nobody listens to: servers ignore those that begin so. */
const IGNORED = { jsonrpc: '2.0', method: '$/ignored' };

interface Refusal {
  readonly code: number;
  readonly message: string;
}

/** When a client may ask for what (LSP 3.17, Server lifecycle). */
class Lifecycle {
  private state: 'new' | 'begun' | 'ended' = 'new';

  get hasEnded(): boolean {
    return this.state === 'ended';
  }

  private refusal(method: string): Refusal | undefined {
    const { state } = this;
    if (state === 'ended')
      return { code: ErrorCodes.InvalidRequest, message: 'the session has ended' };
    if (method === 'initialize') {
      this.state = 'begun';
      return state === 'new'
        ? undefined
        : { code: ErrorCodes.InvalidRequest, message: 'the session has begun already' };
    }
    if (state === 'new')
      return { code: ErrorCodes.ServerNotInitialized, message: 'send "initialize" first' };
    if (method === 'shutdown') this.state = 'ended';
    return undefined;
  }

  /** Hands a message on, or a refused request in its place; nothing else comes too early. */
  handleMessage(message: Message, next: (message: Message) => void): void {
    if (Message.isRequest(message)) {
      const params = this.refusal(message.method);
      next(params ? Object.assign(message, { method: REFUSED, params }) : message);
    } else if (
      !Message.isNotification(message) ||
      message.method === 'exit' ||
      this.state === 'begun'
    )
      next(message);
  }
}

/** Speaks with an editor over streams; ends the process with them, or when the editor says so. */
export function connectTo(input: NodeJS.ReadableStream, output: NodeJS.WritableStream): Connection {
  const lifecycle = new Lifecycle();
  const writer = new StreamMessageWriter(output);
  const refuse = (code: number, message: string): Message => {
    // JSON-RPC 2.0 section 5: of what cannot be read, nobody knows the id.
    void writer.write({ jsonrpc: '2.0', id: null, error: { code, message } } as unknown as Message);
    return IGNORED;
  };
  const decode = (bytes: Uint8Array): Promise<Message> => {
    let value: unknown;
    try {
      value = JSON.parse(new TextDecoder().decode(bytes));
    } catch {
      return Promise.resolve(refuse(ErrorCodes.ParseError, 'this is invalid JSON'));
    }
    const isMessage = typeof value === 'object' && value !== null && !Array.isArray(value);
    return Promise.resolve(
      isMessage
        ? (value as Message)
        : refuse(ErrorCodes.InvalidRequest, 'a message is an object of JSON-RPC 2.0'),
    );
  };
  const reader = new StreamMessageReader(input, {
    contentTypeDecoder: { name: 'application/json', decode },
  });
  const connection = createConnection(ProposedFeatures.all, reader, writer, {
    messageStrategy: lifecycle,
  });
  connection.onRequest(REFUSED, ({ code, message }: Refusal) => new ResponseError(code, message));
  const end = (): void => {
    process.exit(lifecycle.hasEnded ? 0 : 1);
  };
  input.on('end', end);
  input.on('close', end);
  return connection;
}
