import Ajv2020 from 'ajv/dist/2020';
import { PACK_SCHEMA } from '../core/packs/schema';

/** So many faults of a report are told. */
const MOST = 50;

/** What of a report of a pack is not as its schema has it, a line each; empty where all is. */
export function faultsOfReport(report: unknown): string[] {
  const validate = new Ajv2020({ allErrors: true, strict: true, allowUnionTypes: true }).compile(PACK_SCHEMA);
  if (validate(report)) return [];
  return (validate.errors ?? [])
    .slice(0, MOST)
    .map((e) => `${e.instancePath || 'the report'} ${e.message ?? 'is not as it must be'}${more(e.params)}`);
}

function more(params: Record<string, unknown>): string {
  const { additionalProperty, allowedValues } = params;
  if (typeof additionalProperty === 'string') return `: "${additionalProperty}"`;
  return Array.isArray(allowedValues) ? `: ${allowedValues.join(', ')}` : '';
}
