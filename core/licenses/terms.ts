/** The people that a rule covers: these schools, grades, subjects and classes, but not those. */
import type { Rule } from '#core/entities/index';

/** An empty list leaves it open; in each other list one entry must fit. */
export interface RuleTerms {
  schools: string[];
  grades: string[];
  subjects: string[];
  classes: string[];
  /** People of any of these are left out. */
  except: { schools: string[]; grades: string[]; classes: string[] };
}
/** The fields of a rule that say it. */
export type TermFields = Pick<Rule, 'schoolId' | 'grade' | 'subject' | 'classId' | 'terms'>;

export const anyone = (): RuleTerms => ({
  ...{ schools: [], grades: [], subjects: [], classes: [] },
  except: { schools: [], grades: [], classes: [] },
});

export function termsOf({ schoolId, grade, subject, classId, terms }: TermFields): RuleTerms {
  const said = terms ? (JSON.parse(terms) as RuleTerms) : anyone();
  const all = (one: string | null, more: string[]) => (one === null ? more : [one, ...more]);
  return {
    schools: all(schoolId, said.schools),
    grades: all(grade, said.grades),
    subjects: all(subject, said.subjects),
    classes: all(classId, said.classes),
    except: said.except,
  };
}

/** What names one thing alone stands in its own field; equal terms give equal fields. */
export function termFields(of: RuleTerms): TermFields {
  const { schools, grades, subjects, classes, except } = of;
  const one = (list: string[]) => (list.length === 1 ? list[0]! : null);
  const many = (list: string[]) => (list.length === 1 ? [] : [...new Set(list)].sort());
  const more: RuleTerms = {
    ...{ schools: many(schools), grades: many(grades), subjects: many(subjects), classes: many(classes) },
    except: {
      schools: [...new Set(except.schools)].sort(),
      grades: [...new Set(except.grades)].sort(),
      classes: [...new Set(except.classes)].sort(),
    },
  };
  const text = JSON.stringify(more);
  return {
    ...{ schoolId: one(schools), grade: one(grades), subject: one(subjects), classId: one(classes) },
    terms: text === JSON.stringify(anyone()) ? null : text,
  };
}
