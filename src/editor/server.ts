import {
  CompletionItemKind,
  createConnection,
  DiagnosticSeverity,
  LSPErrorCodes,
  MarkupKind,
  ResponseError,
  StreamMessageWriter,
  TextDocuments,
  TextDocumentSyncKind,
  type Diagnostic as Shown,
  type Message,
  type Range,
} from 'vscode-languageserver/node';
import { TextDocument } from 'vscode-languageserver-textdocument';
import { sourceOf, type Diagnostic, type Place, type Severity, type Source } from '../core/internal.js';
import { findingsOf, readingOf, type EditedTexts } from './context.js';
import { definitionOf } from './definition.js';
import { GuardedReader } from './guarded-reader.js';
import { hoverOf } from './hover.js';
import { suggestionsFor } from './suggestions.js';

/** What a language server needs of the world around it. */
export interface EditorWorld {
  readonly input: NodeJS.ReadableStream;
  readonly output: NodeJS.WritableStream;
  readonly version: string;
  /** The file that a URI names; null for what is no file. */
  fileOf(uri: string): string | null;
  uriOf(file: string): string;
  /** The policy of a file with its walks, as they are on disk; their names are whole paths. */
  textsFor(file: string, text: string): EditedTexts;
}

/** So long nothing is typed before a text is looked at. */
const PAUSE_MILLISECONDS = 150;
/** So long a request waits for what came with it: edits of a large text come faster than it can be read. */
const QUEUE_MILLISECONDS = 15;

const SEVERITIES: Readonly<Record<Severity, DiagnosticSeverity>> = {
  error: DiagnosticSeverity.Error,
  warning: DiagnosticSeverity.Warning,
  advice: DiagnosticSeverity.Information,
};

/** A language server (Language Server Protocol 3.17) over two streams; ends when the client does. */
export async function serveEditor(world: EditorWorld): Promise<void> {
  const writer = new StreamMessageWriter(world.output);
  const reader = new GuardedReader(world.input, ({ id, ...error }) => {
    void writer.write({ jsonrpc: '2.0', id, error } as Message);
  });
  const connection = createConnection(reader, writer);
  const documents = new TextDocuments(TextDocument);
  const timers = new Map<string, NodeJS.Timeout>();
  const marked = new Map<string, ReadonlySet<string>>();

  const textsFor = (document: TextDocument): EditedTexts => {
    const file = world.fileOf(document.uri);
    if (file === null) return { policy: null, walks: [] };
    const { policy, walks } = world.textsFor(file, document.getText());
    const asEdited = (name: string, text: string) => {
      const open = documents.get(world.uriOf(name));
      return sourceOf(name, open === undefined ? text : open.getText());
    };
    return {
      policy: policy && asEdited(policy.file, policy.text),
      walks: walks.map(({ file: name, text }) => asEdited(name, text)),
    };
  };

  /** The document of a request as it still is once all that came with it was read; what is asked of an older text is of no use. */
  const current = async (uri: string): Promise<TextDocument | undefined> => {
    const version = documents.get(uri)?.version;
    await new Promise((settle) => setTimeout(settle, QUEUE_MILLISECONDS));
    const document = documents.get(uri);
    if (document?.version === version) return document;
    throw new ResponseError(LSPErrorCodes.ContentModified, 'the text was changed meanwhile');
  };

  const look = async (document: TextDocument) => {
    const diagnostics = await findingsOf(textsFor(document));
    const byUri = new Map<string, Shown[]>([[document.uri, []]]);
    for (const diagnostic of diagnostics) {
      const uri = diagnostic.place === null ? document.uri : world.uriOf(diagnostic.place.source.file);
      byUri.set(uri, [...(byUri.get(uri) ?? []), shownAs(diagnostic, world)]);
    }
    // What is mended is no longer marked, in other files too.
    for (const uri of marked.get(document.uri) ?? []) if (!byUri.has(uri)) byUri.set(uri, []);
    marked.set(document.uri, new Set(byUri.keys()));
    for (const [uri, all] of byUri) await connection.sendDiagnostics({ uri, diagnostics: all });
  };

  connection.onInitialize(() => ({
    capabilities: {
      textDocumentSync: TextDocumentSyncKind.Incremental,
      hoverProvider: true,
      completionProvider: { triggerCharacters: [' ', '/', '[', ','] },
      definitionProvider: true,
    },
    serverInfo: { name: 'cavrin', version: world.version },
  }));

  documents.onDidChangeContent(({ document }) => {
    clearTimeout(timers.get(document.uri));
    timers.set(
      document.uri,
      setTimeout(() => {
        look(document).catch((error: unknown) => {
          connection.console.error(String(error));
        });
      }, PAUSE_MILLISECONDS),
    );
  });
  documents.onDidClose(({ document }) => {
    clearTimeout(timers.get(document.uri));
    timers.delete(document.uri);
  });

  connection.onHover(async ({ textDocument, position }) => {
    const document = await current(textDocument.uri);
    if (document === undefined) return null;
    const reading = await readingOf(textsFor(document));
    const found = await hoverOf(document.getText(), document.offsetAt(position), kindOf(document), reading);
    if (found === null) return null;
    return {
      contents: { kind: MarkupKind.Markdown, value: found.markdown },
      range: { start: document.positionAt(found.start), end: document.positionAt(found.end) },
    };
  });

  connection.onCompletion(async ({ textDocument, position }) => {
    const document = await current(textDocument.uri);
    if (document === undefined) return [];
    const kinds = {
      key: CompletionItemKind.Property,
      word: CompletionItemKind.EnumMember,
      name: CompletionItemKind.Reference,
    };
    const { policy } = textsFor(document);
    const offset = document.offsetAt(position);
    const suggestions = suggestionsFor(document.getText(), offset, kindOf(document), policy);
    return suggestions.map(({ text, kind, about }) => ({
      label: text,
      kind: kinds[kind],
      ...(about === '' ? {} : { detail: about }),
    }));
  });

  connection.onDefinition(async ({ textDocument, position }) => {
    const document = await current(textDocument.uri);
    if (document === undefined) return null;
    const place = definitionOf(document.getText(), document.offsetAt(position), textsFor(document).policy);
    return place === null ? null : { uri: world.uriOf(place.source.file), range: rangeOf(place) };
  });

  const ended = new Promise<void>((settle) => {
    connection.onExit(settle);
    world.input.on('end', settle);
  });
  documents.listen(connection);
  connection.listen();
  await ended;
  for (const timer of timers.values()) clearTimeout(timer);
  connection.dispose();
}

/** A policy says which version of the language it is in. */
function kindOf(document: TextDocument): 'policy' | 'walks' {
  return /^cavrin:/m.test(document.getText()) ? 'policy' : 'walks';
}

/** Where its lines begin is worked out once for each text. */
const documentsOf = new WeakMap<Source, TextDocument>();

function rangeOf({ source, start, end }: Place): Range {
  let document = documentsOf.get(source);
  if (document === undefined) {
    document = TextDocument.create('', 'yaml', 0, source.text);
    documentsOf.set(source, document);
  }
  return { start: document.positionAt(start), end: document.positionAt(end) };
}

const NOWHERE: Range = { start: { line: 0, character: 0 }, end: { line: 0, character: 1 } };

function shownAs({ code, severity, message, place, hint, related }: Diagnostic, world: EditorWorld): Shown {
  return {
    source: 'cavrin',
    code,
    severity: SEVERITIES[severity],
    message: hint === null ? message : `${message}\n${hint}`,
    range: place === null ? NOWHERE : rangeOf(place),
    relatedInformation: related.map((each) => ({
      location: { uri: world.uriOf(each.place.source.file), range: rangeOf(each.place) },
      message: each.message,
    })),
  };
}
