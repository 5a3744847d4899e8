/** What new classes are made from: classes kept as templates, and what each school calls its classes. The district's own, and recorded. */
import { say } from '#core/messages/say';
import { inScope } from '#core/authority/index';
import { classPatternError, type ClassTemplate } from '#core/classes/index';
import { Fault } from '../faults';
import type { Viewer } from '../services';
import { audit } from '../trail';
import type { Db } from '../db/connection';
import { district, keepSettings } from '../district';
import { classOf } from './make';

export async function templates(db: Db): Promise<{ templates: ClassTemplate[]; patterns: Record<string, string> }> {
  const { settings } = (await district(db))!;
  return { templates: settings.templates, patterns: settings.classPatterns };
}

/** A class as it is set up, with the names of its groups and without anybody in it; `classId` null: the name is forgotten. */
export async function keepTemplate(db: Db, viewer: Viewer, name: string, classId: string | null): Promise<void> {
  const others = (await templates(db)).templates.filter((one) => one.name !== name);
  if (classId === null) await keepSettings(db, { templates: others });
  else {
    const one = await classOf(db, viewer, classId);
    const groups = await db.models.group.findAll({
      attributes: ['name'],
      where: { classId, ends: null },
      order: ['name'],
      limit: 20,
      raw: true,
    });
    const { kind, subject, period = null, color = null, discuss = null, invite = null } = one;
    const template = { name, kind, subject, period, color, discuss, invite, groups: groups.map((g) => g.name) };
    await keepSettings(db, { templates: [...others, template].sort((a, b) => a.name.localeCompare(b.name, 'en')) });
  }
  await audit(db, {
    by: viewer.personId,
    action: 'template',
    detail: `${name}: ${classId === null ? 'forgotten' : 'kept'}`,
  });
}

export async function keepPattern(db: Db, viewer: Viewer, schoolId: string, pattern: string): Promise<void> {
  if (!inScope(viewer, schoolId)) throw new Fault('not-allowed', say('classes.thisSchoolIsNotYours'));
  const wrong = classPatternError(pattern);
  if (wrong) throw new Fault('invalid', wrong);
  const { patterns } = await templates(db);
  await keepSettings(db, { classPatterns: { ...patterns, [schoolId]: pattern } });
  await audit(db, { by: viewer.personId, action: 'settings', detail: `class names of a school: ${pattern}` });
}
