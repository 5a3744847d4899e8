/**
 * Why two people are taken for one, in bits: log2 of how much likelier a field's level is for one person than for
 * two who met in the comparison. The bits add up to the score.
 */
import { type FieldName, fieldNames, levels, otherLevels } from './fields';
import { kinds, type Model, type Patterns } from './model';

export interface Evidence {
  /** A field; or what is no field: how rare it is to be on both lists, relatives who look alike, other candidates. */
  what: FieldName | `other ${number}` | 'beforehand' | 'rivals';
  /** How the field compares, in words; empty for what is no field. */
  level: string;
  bits: number;
}

/** `logOdds` of the pair by itself (natural logarithm) and its `probability` with rivals weighed. */
export function evidenceOf(
  model: Model,
  patterns: Patterns,
  pattern: number,
  logOdds: number,
  probability: number,
): Evidence[] {
  const result: Evidence[] = [];
  const others = kinds.map((_, k) => k).slice(1);
  const whole = others.reduce((sum, k) => sum + Math.max(model.sizes[k]!, 1e-6), 0);
  let sum = 0;
  for (let f = 0; f < patterns.width; f++) {
    const level = patterns.levels[pattern * patterns.width + f]!;
    if (level === 0) continue;
    const u = others.reduce(
      (t, k) => t + (Math.max(model.sizes[k]!, 1e-6) / whole) * Math.exp(model.logs[k]![f]![level]!),
      0,
    );
    const bits = (model.logs[0]![f]![level]! - Math.log(u)) / Math.LN2;
    const name = fieldNames[f];
    result.push({
      what: name ?? `other ${f - fieldNames.length}`,
      level: name ? levels[name][level]! : otherLevels[level]!,
      bits,
    });
    sum += bits;
  }
  const alone = logOdds / Math.LN2;
  const all = Math.log2(Math.max(probability, 1e-12) / Math.max(1 - probability, 1e-12));
  const rivals = Math.abs(all - alone) > 0.05;
  result.push({ what: 'beforehand', level: '', bits: (rivals ? alone : all) - sum });
  if (rivals) result.push({ what: 'rivals', level: '', bits: all - alone });
  return result;
}
