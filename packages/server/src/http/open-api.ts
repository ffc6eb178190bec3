import { type CallContract, CONTRACT } from '@gaveta/core/contract';
import { z } from 'zod';
import { API_ERRORS } from '../base/api-error.ts';

type Json = Record<string, unknown>;

/** Schemas that others refer to, each once. */
class SharedSchemas {
  readonly all: Record<string, unknown> = {};
  private readonly names = new Map<string, string>();

  /** A schema whose references lead into the document: JSON Schema keeps what is recursive beside itself. */
  of(schema: z.ZodType, io: 'input' | 'output'): Json {
    const { $schema: _, $defs = {}, ...rest } = z.toJSONSchema(schema, { io, unrepresentable: 'any' }) as Json;
    const local = new Map(Object.entries($defs as Json).map(([name, def]) => [name, this.nameOf(JSON.stringify(def))]));
    const led = (part: unknown): unknown =>
      JSON.parse(
        JSON.stringify(part).replace(/"#\/\$defs\/(\w+)"/g, (whole, name: string) =>
          local.has(name) ? `"#/components/schemas/${local.get(name)}"` : whole,
        ),
      );
    for (const [name, def] of Object.entries($defs as Json)) this.all[local.get(name)!] ??= led(def);
    return led(rest) as Json;
  }

  private nameOf(text: string): string {
    const name = this.names.get(text) ?? `part_${this.names.size + 1}`;
    this.names.set(text, name);
    return name;
  }
}

const json = (schema: Json): Json => ({ 'application/json': { schema } });

const answerOf = ({ gives }: CallContract, schemas: SharedSchemas): Json => {
  if (gives === 'nothing') return { description: 'Done; there is nothing to say.' };
  if (gives === 'file')
    return { description: 'The file.', content: { '*/*': { schema: { type: 'string', format: 'binary' } } } };
  if (gives === 'events')
    return {
      description: 'The state at each change.',
      content: { 'text/event-stream': { schema: { type: 'string' } } },
    };
  return { description: 'What was asked for.', content: json(schemas.of(gives, 'output')) };
};

/** The parts of a query, one parameter each. */
const queryOf = ({ query }: CallContract, schemas: SharedSchemas): Json[] => {
  if (!query) return [];
  const { properties = {}, required = [] } = schemas.of(query, 'input') as {
    properties?: Record<string, Json>;
    required?: string[];
  };
  return Object.entries(properties).map(([name, schema]) => ({
    name,
    in: 'query',
    required: required.includes(name),
    schema,
  }));
};

const operationOf = (name: string, call: CallContract, schemas: SharedSchemas): Json => {
  const params = [...name.matchAll(/:(\w+)/g)].map(([, param]) => ({
    name: param,
    in: 'path',
    required: true,
    schema: { type: 'string' },
  }));
  const rights = call.needs === 'nobody' || call.needs === 'session' ? '' : ` Needs the right “${call.needs}”.`;
  return {
    operationId: name.replace(/[^A-Za-z]+/g, '_').replace(/^_|_$/g, ''),
    summary: call.does,
    description: `${call.does}${rights}`,
    parameters: [...params, ...queryOf(call, schemas)],
    ...(call.body ? { requestBody: { required: true, content: json(schemas.of(call.body, 'input')) } } : {}),
    ...(name === 'POST /uploads'
      ? {
          requestBody: {
            required: true,
            content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } },
          },
        }
      : {}),
    security: call.needs === 'nobody' ? [] : [{ token: [] }],
    responses: {
      [String(call.status ?? 200)]: answerOf(call, schemas),
      default: { $ref: '#/components/responses/problem' },
    },
  };
};

/** The API as an OpenAPI 3.1 document, made from its contract; without the address that it is mounted at. */
export const openApi = (): Json => {
  const paths: Record<string, Json> = {};
  const schemas = new SharedSchemas();
  for (const [name, call] of Object.entries(CONTRACT)) {
    const [method = '', path = ''] = name.split(' ');
    const address = path.replace(/:(\w+)/g, '{$1}');
    paths[address] = { ...paths[address], [method.toLowerCase()]: operationOf(name, call, schemas) };
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Gaveta', version: '1', description: 'Reports: designing, running and reading them.' },
    paths,
    components: {
      schemas: schemas.all,
      securitySchemes: { token: { type: 'http', scheme: 'bearer', bearerFormat: 'JWT' } },
      responses: {
        problem: {
          description: 'A problem document (RFC 9457).',
          content: {
            'application/problem+json': {
              schema: {
                type: 'object',
                required: ['type', 'title', 'status', 'detail', 'code'],
                properties: {
                  type: { type: 'string' },
                  title: { type: 'string' },
                  status: { type: 'integer' },
                  detail: { type: 'string' },
                  code: { enum: Object.keys(API_ERRORS) },
                  data: { type: 'object' },
                },
              },
            },
          },
        },
      },
    },
  };
};
