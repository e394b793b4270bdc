import { uniformSize, type Contract, type ContractParameter } from './contract.ts';

const identifier = (text: string): string =>
  text
    .replace(/[^A-Za-z0-9]+(.)?/g, (_, next: string | undefined) => (next ?? '').toUpperCase())
    .replace(/^(\d)/, '_$1') || 'shader';

const tuple = (n: number): string =>
  n === 1 ? 'number' : `readonly [${new Array<string>(n).fill('number').join(', ')}]`;

const valueType = ({ kind }: ContractParameter): string => {
  switch (kind) {
    case 'bool':
      return 'boolean';
    case 'texture':
      return 'string';
    case 'curve':
    case 'gradient':
      return 'readonly number[]';
    case 'noise':
      return '{ readonly seed: number; readonly period: number }';
    default:
      return tuple(uniformSize(kind as 'float'));
  }
};

const unitText = (each: ContractParameter): string =>
  [each.description, each.unit && `In ${each.unit}.`].filter(Boolean).join(' ').replace(/\*\//g, '* /');

/**
 * A TypeScript module of a shader's parameters: their names, types, ranges, defaults and slots, for a game's code to
 * be checked against.
 */
export const bindingsOf = (contract: Contract): string => {
  const name = identifier(contract.shader);
  const type = name[0]!.toUpperCase() + name.slice(1);
  const members = contract.parameters.map((each) => {
    const said = unitText(each);
    return `${said ? `  /** ${said} */\n` : ''}  ${each.name}: ${valueType(each)};`;
  });
  const entries = contract.parameters.map(
    (each) =>
      `  ${each.name}: ${JSON.stringify({
        ...{ kind: each.kind, scope: each.scope, uniform: each.uniform, uniforms: each.uniforms },
        ...{ min: each.min, max: each.max, ends: each.ends, unit: each.unit, default: each.uniformDefault },
      })},`,
  );
  return `// Made from the shader “${contract.shader}”. Colours are linear; a colour's uniform is its light times 2^stops.

/** The values the shader is driven by. */
export interface ${type}Values {
${members.join('\n')}
}

/** Each parameter's uniforms and range, as the shader reads them. */
export const ${name}Parameters = {
${entries.join('\n')}
} as const;

export type ${type}Parameter = keyof typeof ${name}Parameters;

/** Vectors of \`uniform vec4 lifetime[n]\`, which the lifetime's parameters are packed in. */
export const ${name}LifetimeVectors = ${contract.lifetimeVectors};
`;
};
