/** Classes by hand: made, changed and ended, and back. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ClassesPreview, ClassRow, GroupRow, PlanSheet } from '../contract';
import { type Caller, World } from '../testing/world';

let world: World;
let district: Caller;
beforeAll(async () => {
  world = await World.open('classes');
  district = await world.as('district');
});
afterAll(() => world.close());

const schoolId = async (code: string) =>
  (await world.db.one<{ id: string }>('SELECT id FROM schools WHERE code = :code', { code }))!.id;
const classes = async (school: string) => (await district.get<ClassRow[]>(`/api/classes?school=${school}`)).body;
const blank = { kind: 'homeroom', grade: null, subject: null, template: null, likeId: null, people: false };

describe('classes made by hand', () => {
  it('come several at once, leave out what is there, and go again', async () => {
    const school = await schoolId('LAN');
    const before = await world.checksum();
    const there = (await classes(school)).find(({ name }) => name === '3A')!;
    const order = { ...blank, schoolId: school, names: '3A, 3X-3Z' };
    const preview = (await district.post<ClassesPreview>('/api/classes/preview', order)).body;
    expect(preview.classes.map(({ name, grade, clash }) => [name, grade, clash?.classId ?? null])).toEqual([
      ['3A', '03', there.id],
      ['3X', '03', null],
      ['3Y', '03', null],
      ['3Z', '03', null],
    ]);
    expect(preview.classes[0]!.clash!.teachers).toBe(there.teachers ?? '');
    const { body } = await district.post<{ planId: string; sentence: string }>('/api/classes', order);
    expect(body.sentence).toBe('Adds 3 classes.');
    expect((await classes(school)).map(({ name }) => name)).toEqual(expect.arrayContaining(['3X', '3Y', '3Z']));
    expect((await district.post('/api/classes', order)).status).toBe(422);
    await district.job(`/api/plans/${body.planId}/undo`);
    expect(await world.checksum()).toBe(before);
  });

  it('can be like another with its people, which the counts show at once', async () => {
    const school = await schoolId('LAN');
    const model = (await classes(school)).find(({ kind, students }) => kind === 'homeroom' && students > 10)!;
    const order = {
      ...blank,
      schoolId: school,
      names: 'Reading club',
      kind: 'course',
      template: null,
      likeId: model.id,
      people: true,
    };
    expect((await district.post('/api/classes', order)).status).toBe(200);
    const made = (await classes(school)).find(({ name }) => name === 'Reading club')!;
    // A student is in one homeroom, so this is a course.
    expect([made.kind, made.students, made.teachers, made.grade]).toEqual([
      'course',
      model.students,
      model.teachers,
      model.grade,
    ]);
    const elsewhere = { ...order, schoolId: await schoolId('THO') };
    expect((await district.post('/api/classes/preview', elsewhere)).status).toBe(422);
  });

  it('are renamed unless the name is taken, and end with everyone’s place in them', async () => {
    const school = await schoolId('LAN');
    const [one, two] = (await classes(school)).filter(({ kind }) => kind === 'homeroom') as [ClassRow, ClassRow];
    const rename = (after: string) =>
      district.post<{ error: string }>(`/api/classes/${one.id}/edit`, { field: 'name', before: one.name, after });
    const clash = await rename(two.name.toLowerCase());
    expect([clash.status, clash.body.error]).toEqual([409, expect.stringContaining('There is already a class named')]);
    expect((await rename('Heron')).status).toBe(200);
    expect((await rename('Egret')).status).toBe(409);
    const { body } = await district.post<{ planId: string }>(`/api/classes/${one.id}/end`);
    const sheet = (await district.get<PlanSheet>(`/api/plans/${body.planId}`)).body;
    expect(sheet.total.total).toBe(1 + one.students + (one.teachers?.split(', ').length ?? 0));
    await district.apply(body.planId);
    expect((await classes(school)).map(({ id }) => id)).not.toContain(one.id);
    await district.job(`/api/plans/${body.planId}/undo`);
    expect((await classes(school)).find(({ id }) => id === one.id)).toMatchObject({
      name: 'Heron',
      students: one.students,
    });
  });

  it('are split and combined by plans to be looked at; nobody is lost, and undo leaves nothing behind', async () => {
    const school = await schoolId('THO');
    const before = await world.checksum();
    const one = (await classes(school)).find(({ kind, students }) => kind === 'homeroom' && students > 10)!;
    expect((await district.post(`/api/classes/${one.id}/split`, { names: one.name })).status).toBe(409);
    const split = (await district.post<{ planId: string }>(`/api/classes/${one.id}/split`, { names: 'Sand, Shale' }))
      .body.planId;
    await district.job(`/api/plans/${split}/apply`);
    const parts = (await classes(school)).filter(({ name }) => [one.name, 'Sand', 'Shale'].includes(name));
    expect(parts.reduce((sum, { students }) => sum + students, 0)).toBe(one.students);
    expect(parts.every(({ teachers, grade }) => teachers === one.teachers && grade === one.grade)).toBe(true);
    const others = parts.filter(({ id }) => id !== one.id).map(({ id }) => id);
    const combine = (await district.post<{ planId: string }>(`/api/classes/${one.id}/combine`, { others })).body.planId;
    await district.job(`/api/plans/${combine}/apply`);
    expect((await classes(school)).find(({ id }) => id === one.id)!.students).toBe(one.students);
    expect((await classes(school)).some(({ name }) => name === 'Sand')).toBe(false);
    for (const planId of [combine, split]) await district.job(`/api/plans/${planId}/undo`);
    expect(await world.checksum()).toBe(before);
  });

  it('have a period, a color and policies, of what can be chosen', async () => {
    const [one] = await classes(await schoolId('THO'));
    const edit = (field: string, after: string) =>
      district.post(`/api/classes/${one!.id}/edit`, { field, before: null, after });
    expect((await edit('period', '2')).status).toBe(200);
    expect((await edit('color', 'dusk')).status).toBe(200);
    expect((await edit('discuss', 'all')).status).toBe(200);
    expect([(await edit('color', 'neon')).status, (await edit('invite', 'everybody')).status]).toEqual([422, 422]);
    expect((await classes(await schoolId('THO'))).find(({ id }) => id === one!.id)).toMatchObject({
      period: '2',
      color: 'dusk',
      discuss: 'all',
      invite: null,
    });
  });

  it('are made from a template with all but its people, and by the school’s pattern', async () => {
    const school = await schoolId('GUL');
    const [one] = await classes(school);
    await district.post(`/api/classes/${one!.id}/edit`, { field: 'color', before: null, after: 'rust' });
    await district.post('/api/groups', {
      classId: one!.id,
      schoolId: null,
      name: 'Early ferry',
      kind: 'days',
      rule: null,
      gathered: false,
    });
    expect((await district.post('/api/templates', { name: 'Homeroom with ferries', classId: one!.id })).status).toBe(
      200,
    );
    const order = { ...blank, schoolId: school, names: 'Terns', template: 'Homeroom with ferries' };
    expect((await district.post('/api/classes', order)).status).toBe(200);
    const made = (await classes(school)).find(({ name }) => name === 'Terns')!;
    expect(made).toMatchObject({ color: 'rust', kind: one!.kind, students: 0, teachers: null });
    expect((await district.get<GroupRow[]>(`/api/groups?classId=${made.id}`)).body).toMatchObject([
      { name: 'Early ferry', members: 0 },
    ]);
    expect((await district.post('/api/classes', { ...order, names: 'X', template: 'none such' })).status).toBe(404);
    expect((await district.post('/api/templates/pattern', { schoolId: school, pattern: '{grade}' })).status).toBe(422);
    await district.post('/api/templates/pattern', { schoolId: school, pattern: '{grade}-{number}' });
    await district.post('/api/templates', { name: 'Homeroom with ferries', classId: null });
    const { body } = await district.get('/api/templates');
    expect(body).toEqual({ templates: [], patterns: { [school]: '{grade}-{number}' } });
  });

  it('are made in one’s own schools only', async () => {
    const school = await world.as('school');
    const away = { ...blank, schoolId: await schoolId('LAN'), names: 'Mine' };
    expect((await school.post('/api/classes', away)).status).toBe(403);
    const [stranger] = await classes(await schoolId('LAN'));
    expect((await school.post(`/api/classes/${stranger!.id}/end`)).status).toBe(404);
    const own = await schoolId('SKM');
    const likeThem = { ...blank, schoolId: own, names: 'Mine', template: null, likeId: stranger!.id };
    expect((await school.post('/api/classes', likeThem)).status).toBe(404);
    expect((await school.post('/api/classes', { ...blank, schoolId: own, names: 'Mine' })).status).toBe(200);
  });
});
