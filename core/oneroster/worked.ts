/** A small district in the roster standard, for tests: sound, with every fault, and a night later. */
import type { Records } from './records';

const user = (id: string, given: string, more: Record<string, string> = {}) => ({
  ...{ sourcedId: id, enabledUser: 'true', givenName: given, familyName: `Of ${given}`, primaryOrgSourcedId: 'north' },
  ...more,
});
const role = (id: string, word: string, org = 'north', type = 'primary') => ({
  ...{ sourcedId: `${id}-${word}-${type}`, userSourcedId: id, roleType: type, role: word, orgSourcedId: org },
});
const enrolled = (id: string, klass: string, who: string, word: string, more: Record<string, string> = {}) => ({
  ...{ sourcedId: id, classSourcedId: klass, schoolSourcedId: 'north', userSourcedId: who, role: word },
  ...more,
});

export const sound = (): Records => ({
  'orgs.csv': [
    { sourcedId: 'isles', name: 'Isles', type: 'district', identifier: 'I' },
    { sourcedId: 'north', name: 'North', type: 'school', identifier: 'NORTH', parentSourcedId: 'isles' },
    { sourcedId: 'south', name: 'South', type: 'school', identifier: 'SOUTH', parentSourcedId: 'isles' },
  ],
  'academicSessions.csv': [
    {
      ...{ sourcedId: 'year', title: '2026–27', type: 'schoolYear', schoolYear: '2027' },
      ...{ startDate: '2026-08-01', endDate: '2027-07-31' },
    },
    {
      ...{ sourcedId: 'fall', title: 'Fall', type: 'term', schoolYear: '2027', parentSourcedId: 'year' },
      ...{ startDate: '2026-08-01', endDate: '2026-12-20' },
    },
  ],
  'courses.csv': [
    { sourcedId: 'co1', title: 'Homeroom', orgSourcedId: 'north', schoolYearSourcedId: 'year' },
    { sourcedId: 'co2', title: 'Art', orgSourcedId: 'north', subjects: 'Art,Craft', courseCode: 'A1', grades: '03,04' },
    { sourcedId: 'co3', title: 'Music', orgSourcedId: 'north' },
  ],
  'classes.csv': [
    {
      ...{ sourcedId: 'c1', title: '3A', grades: '03', courseSourcedId: 'co1', classType: 'homeroom' },
      ...{ schoolSourcedId: 'north', termSourcedIds: 'year' },
    },
    {
      ...{ sourcedId: 'c2', title: 'Art 3', courseSourcedId: 'co2', classType: 'scheduled', periods: '2,3' },
      ...{ schoolSourcedId: 'north', termSourcedIds: 'year,fall', subjects: 'Art', location: 'Room 4' },
    },
    // What it teaches is said by its course alone.
    {
      ...{ sourcedId: 'c3', title: 'Craft', courseSourcedId: 'co2', classType: 'scheduled' },
      ...{ schoolSourcedId: 'north', termSourcedIds: 'year' },
    },
    {
      ...{ sourcedId: 'c4', title: 'Music', courseSourcedId: 'co3', classType: 'scheduled' },
      ...{ schoolSourcedId: 'north', termSourcedIds: 'year' },
    },
  ],
  'users.csv': [
    user('u1', 'Ann', {
      identifier: '1001',
      grades: '03',
      agentSourcedIds: 'g1,g2',
      username: 'ann',
      middleName: 'Mid',
    }),
    user('u2', 'Ben', { identifier: '1002', grades: '03', email: 'ben@x.example', enabledUser: 'false' }),
    user('u3', 'Cem', { identifier: '1003', grades: '04,05', primaryOrgSourcedId: 'south' }),
    user('u4', 'Teo', { email: 'teo@x.example', phone: '1', sms: '2', pronouns: 'they' }),
    user('u5', 'Ada', { primaryOrgSourcedId: 'isles', preferredGivenName: 'A' }),
    user('g1', 'Gus', { primaryOrgSourcedId: '' }),
    user('g2', 'Gia', { primaryOrgSourcedId: '', email: 'gia@x.example' }),
  ],
  'roles.csv': [
    role('u1', 'student'),
    role('u2', 'student', 'south', 'secondary'),
    role('u2', 'student'),
    role('u3', 'student', 'south'),
    { ...role('u4', 'teacher'), beginDate: '2026-08-01', endDate: '2027-06-30' },
    role('u5', 'administrator', 'isles'),
    role('g1', 'guardian', 'isles'),
    role('g2', 'parent', 'isles'),
  ],
  'enrollments.csv': [
    enrolled('e1', 'c2', 'u1', 'student'),
    enrolled('e2', 'c1', 'u1', 'student', { beginDate: '2026-08-17' }),
    enrolled('e3', 'c2', 'u2', 'student', { endDate: '2026-12-20' }),
    enrolled('e4', 'c1', 'u4', 'teacher', { primary: 'true' }),
    enrolled('e6', 'c3', 'u1', 'student', { endDate: '2026-01-01' }),
    enrolled('e7', 'c3', 'u2', 'student', { status: 'tobedeleted' }),
    enrolled('e8', 'c3', 'u1', 'proctor'),
    enrolled('e9', 'c4', 'u2', 'student', { endDate: '2026-08-17' }),
  ],
  'demographics.csv': [
    { sourcedId: 'u1', birthDate: '2017-01-01' },
    { sourcedId: 'u2', birthDate: '2017-02-02' },
  ],
});

/** One is new, one is gone, one is called otherwise, one has another guardian's address, one another birth date. */
export function night(): Records {
  const records = sound();
  const users = records['users.csv']!;
  users.splice(2, 1);
  users[3]!.familyName = 'Renamed';
  users.find(({ sourcedId }) => sourcedId === 'g2')!.email = 'other@x.example';
  users.push(user('u6', 'New', { identifier: '1006', grades: '03' }));
  records['roles.csv']!.push(role('u6', 'student'));
  records['roles.csv']!.splice(3, 1);
  records['demographics.csv']![1]!.birthDate = '2017-02-03';
  records['enrollments.csv']![2]!.classSourcedId = 'c1';
  Object.assign(records['enrollments.csv']![1]!, { endDate: '2026-08-01' });
  records['enrollments.csv']!.push(enrolled('e5', 'c1', 'u6', 'student'));
  records['classes.csv']![0]!.title = '3A+';
  return records;
}

/** Version 1.1 as somebody wrote it by hand. */
export function faulty(): Map<string, Uint8Array> {
  const bytes = (...lines: string[]) => new TextEncoder().encode(lines.join('\n'));
  return new Map([
    [
      'Manifest.csv',
      bytes(
        'propertyName,value',
        'oneroster.version, 2.0',
        'file.users,bulk',
        'file.orgs,absent',
        'file.lineItems,bulk',
        'file.,x',
        'file.enrollments,delta',
      ),
    ],
    ['readme.txt', bytes('hello')],
    [
      'orgs.csv',
      bytes(
        'sourcedId,name,type,identifier',
        'n,North,school,N',
        'n,Again,school,N',
        'x,,castle,X',
        ',Nameless,school,',
      ),
    ],
    ['extra.csv', bytes('a,b', '1,2')],
    ['results.csv', bytes('sourcedId', 'r1')],
    ['courses.csv', bytes('sourcedId,title,orgSourcedId', `k1,${'t'.repeat(81)},n`)],
    [
      'classes.csv',
      bytes(
        'sourcedId,status,title,grades,courseSourcedId,classType,schoolSourcedId,termSourcedIds',
        `c1,,${'T'.repeat(121)},03,k1,homeroom,n,t1`,
        'c2,,Two,03,k9,lounge,n,t1',
        'c3,,Three,03,k1,scheduled,"n, zz",',
      ),
    ],
    [
      'users.csv',
      bytes(
        'sourcedId,status,enabledUser,orgSourcedIds,role,username,givenName,familyName,identifier,email,agentSourcedIds,grades',
        'u1,,true,n,student,a,Ann,One,1,,,03',
        'u2,tobedeleted,perhaps,n,student,b,Ben,Two,2,,,3rd',
        'u3,,true,zz,student,c,Cem,Three,3,,u9,04',
        'u4,,true,n,wizard,d,Dov,Four,4,,,',
        'u5,,true,n,aide,e,,Five,5,e@x.example,,',
        'u1,,true,n,student,f,Fay,Six,6,,,',
        'u7,,true,n,student,g,Gil',
        'u8,,true,"zz,n",student,h,Hal,Eight,8,,u5,K',
      ),
    ],
    [
      'enrollments.csv',
      bytes(
        'sourcedId,classSourcedId,schoolSourcedId,userSourcedId,role',
        'e1,c1,n,u1,student',
        'e2,c9,n,u9,guest',
        'e3,,n,u1,student',
      ),
    ],
    ['demographics.csv', bytes('sourcedId,birthDate', 'u1,2017-01-01', 'u2,1/2/2017', 'u77,2017-01-01')],
  ]);
}
