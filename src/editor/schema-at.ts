import { jsonSchemaOf, type Path } from '../core/internal.js';

/** A JSON Schema (draft 2020-12), as far as this asks for it. */
export interface Schema {
  readonly description?: string;
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly additionalProperties?: Schema | boolean;
  readonly items?: Schema;
  readonly anyOf?: readonly Schema[];
  readonly oneOf?: readonly Schema[];
  readonly allOf?: readonly Schema[];
  readonly enum?: readonly unknown[];
  readonly const?: unknown;
  readonly $ref?: string;
  readonly $defs?: Readonly<Record<string, Schema>>;
}

/** Every schema that a value at a path may follow. */
export function schemasAt(file: 'policy' | 'walks', path: Path): Schema[] {
  const root = jsonSchemaOf(file) as Schema;
  let here = alternatives(root, root);
  for (const key of path) {
    here = here
      .flatMap((schema) => {
        const below =
          typeof key === 'number' ? schema.items : (schema.properties?.[key] ?? otherKeys(schema));
        return below === undefined ? [] : [below];
      })
      .flatMap((schema) => alternatives(schema, root));
  }
  return here;
}

function otherKeys({ additionalProperties }: Schema): Schema | undefined {
  return typeof additionalProperties === 'object' ? additionalProperties : undefined;
}

function alternatives(schema: Schema, root: Schema): Schema[] {
  const { $ref, anyOf = [], oneOf = [], allOf = [] } = schema;
  const name = $ref?.replace('#/$defs/', '');
  const meant = name === undefined ? undefined : root.$defs?.[name];
  const others = [...anyOf, ...oneOf, ...allOf, ...(meant === undefined ? [] : [meant])];
  return [schema, ...others.flatMap((each) => alternatives(each, root))];
}
