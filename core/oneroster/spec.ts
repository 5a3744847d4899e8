/**
 * The files of the open roster standard and their fields, as 1EdTech OneRoster CSV 1.1 and 1.2 define them (written
 * from memory). What Sheaf takes over and what it leaves out, with the reason, stands beside each.
 */
import { type PersonField, personFields } from '#core/entities/index';

export type Version = '1.1' | '1.2';

export interface FieldSpec {
  name: string;
  required?: boolean;
  /** A sourcedId, or a list of them, of this file. */
  refers?: FileName;
  list?: boolean;
  kind?: 'date' | 'bool' | 'year';
  words?: readonly string[];
  /** Only in this version. */
  only?: Version;
  /** What it becomes in Sheaf; null: it is carried through a bundle and not taken over. */
  into: string | null;
  /** Why it is not taken over. */
  why?: string;
}

export interface FileSpec {
  fields: FieldSpec[];
  only?: Version;
}

export const fileNames = [
  'orgs.csv',
  'academicSessions.csv',
  'courses.csv',
  'classes.csv',
  'users.csv',
  'roles.csv',
  'userProfiles.csv',
  'enrollments.csv',
  'demographics.csv',
] as const;
export type FileName = (typeof fileNames)[number];

/** Files of the standard that hold nothing of rosters: carried through, not taken over. */
export const leftOutFiles: Record<string, string> = {
  'categories.csv': 'grading is not provisioning',
  'lineItems.csv': 'grading is not provisioning',
  'lineItemLearningObjectiveIds.csv': 'grading is not provisioning',
  'lineItemScoreScales.csv': 'grading is not provisioning',
  'results.csv': 'grading is not provisioning',
  'resultLearningObjectiveIds.csv': 'grading is not provisioning',
  'resultScoreScales.csv': 'grading is not provisioning',
  'scoreScales.csv': 'grading is not provisioning',
  'resources.csv': 'materials follow from licenses and rules, not from a roster',
  'classResources.csv': 'materials follow from licenses and rules, not from a roster',
  'courseResources.csv': 'materials follow from licenses and rules, not from a roster',
  'userResources.csv': 'materials follow from licenses and rules, not from a roster',
};

export const orgTypes = ['department', 'school', 'district', 'local', 'state', 'national'] as const;
export const sessionTypes = ['gradingPeriod', 'semester', 'schoolYear', 'term'] as const;
export const classTypes = ['homeroom', 'scheduled'] as const;
export const userRoles = [
  'administrator',
  'aide',
  'counselor',
  'districtAdministrator',
  'guardian',
  'parent',
  'principal',
  'proctor',
  'relative',
  'siteAdministrator',
  'student',
  'systemAdministrator',
  'teacher',
] as const;
export const enrollmentRoles = ['administrator', 'proctor', 'student', 'teacher'] as const;
export const statusWords = ['active', 'tobedeleted'] as const;

const common: FieldSpec[] = [
  { name: 'sourcedId', required: true, into: 'the key by which a record is known again' },
  { name: 'status', words: statusWords, into: 'what a delta says of the record' },
  { name: 'dateLastModified', into: null, why: 'the ledger has its own times' },
];
const none = (name: string, why: string, more: Partial<FieldSpec> = {}): FieldSpec => ({
  name,
  into: null,
  why,
  ...more,
});
const notNeeded = 'no job of Sheaf needs it, so it is not kept';

export const spec: Record<FileName, FileSpec> = {
  'orgs.csv': {
    fields: [
      ...common,
      { name: 'name', required: true, into: 'school.name' },
      { name: 'type', required: true, words: orgTypes, into: 'which of them are schools' },
      { name: 'identifier', into: 'school.code' },
      { name: 'parentSourcedId', refers: 'orgs.csv', into: 'the district' },
    ],
  },
  'academicSessions.csv': {
    fields: [
      ...common,
      { name: 'title', required: true, into: 'the term’s name' },
      { name: 'type', required: true, words: sessionTypes, into: 'the term’s kind' },
      { name: 'startDate', required: true, kind: 'date', into: 'class.begins' },
      { name: 'endDate', required: true, kind: 'date', into: 'class.ends' },
      { name: 'parentSourcedId', refers: 'academicSessions.csv', into: 'the year that a term is part of' },
      { name: 'schoolYear', required: true, kind: 'year', into: 'the school year' },
    ],
  },
  'courses.csv': {
    fields: [
      ...common,
      { name: 'schoolYearSourcedId', refers: 'academicSessions.csv', into: 'the school year' },
      { name: 'title', required: true, into: 'class.subject, where the class names none' },
      none('courseCode', notNeeded),
      { name: 'grades', list: true, into: 'class.grade, where the class names none' },
      { name: 'orgSourcedId', required: true, refers: 'orgs.csv', into: 'checked only' },
      { name: 'subjects', list: true, into: 'class.subject' },
      none('subjectCodes', notNeeded),
    ],
  },
  'classes.csv': {
    fields: [
      ...common,
      { name: 'title', required: true, into: 'class.name' },
      { name: 'grades', list: true, into: 'class.grade' },
      { name: 'courseSourcedId', required: true, refers: 'courses.csv', into: 'class.subject' },
      none('classCode', notNeeded),
      { name: 'classType', required: true, words: classTypes, into: 'class.kind' },
      none('location', notNeeded),
      { name: 'schoolSourcedId', required: true, refers: 'orgs.csv', into: 'class.schoolId' },
      {
        name: 'termSourcedIds',
        required: true,
        refers: 'academicSessions.csv',
        list: true,
        into: 'class.begins and class.ends',
      },
      { name: 'subjects', list: true, into: 'class.subject' },
      none('subjectCodes', notNeeded),
      none('periods', 'periods belong to carts, which are planned by hand'),
    ],
  },
  'users.csv': {
    fields: [
      ...common,
      { name: 'enabledUser', required: true, kind: 'bool', into: 'whether the account is frozen' },
      {
        name: 'orgSourcedIds',
        required: true,
        refers: 'orgs.csv',
        list: true,
        only: '1.1',
        into: 'affiliation.schoolId',
      },
      { name: 'role', required: true, words: userRoles, only: '1.1', into: 'person.role' },
      none('username', 'usernames are given by the district’s own pattern and never change'),
      none('userIds', notNeeded, { list: true }),
      { name: 'givenName', required: true, into: 'person.givenName' },
      { name: 'familyName', required: true, into: 'person.familyName' },
      { name: 'middleName', into: 'person.middleName' },
      { name: 'identifier', into: 'person.number' },
      { name: 'email', into: 'person.email' },
      none('sms', notNeeded),
      none('phone', notNeeded),
      {
        name: 'agentSourcedIds',
        refers: 'users.csv',
        list: true,
        into: 'person.guardianEmail, from the guardian’s e-mail',
      },
      { name: 'grades', list: true, into: 'affiliation.grade' },
      none('password', 'secrets are Sheaf’s own and no file’s'),
      none('userMasterIdentifier', notNeeded, { only: '1.2' }),
      none('resourceSourcedIds', 'materials follow from licenses and rules', { list: true, only: '1.2' }),
      { name: 'preferredGivenName', only: '1.2', into: 'person.preferredName' },
      none('preferredMiddleName', notNeeded, { only: '1.2' }),
      none('preferredFamilyName', notNeeded, { only: '1.2' }),
      { name: 'primaryOrgSourcedId', refers: 'orgs.csv', only: '1.2', into: 'affiliation.schoolId' },
      none('pronouns', notNeeded, { only: '1.2' }),
    ],
  },
  'roles.csv': {
    only: '1.2',
    fields: [
      ...common,
      { name: 'userSourcedId', required: true, refers: 'users.csv', into: 'whose role it is' },
      { name: 'roleType', required: true, words: ['primary', 'secondary'], into: 'which role counts' },
      { name: 'role', required: true, words: userRoles, into: 'person.role' },
      { name: 'beginDate', kind: 'date', into: 'affiliation.begins' },
      { name: 'endDate', kind: 'date', into: 'affiliation.ends' },
      { name: 'orgSourcedId', required: true, refers: 'orgs.csv', into: 'affiliation.schoolId' },
      none('userProfileSourcedId', 'profiles are accounts elsewhere'),
    ],
  },
  'userProfiles.csv': {
    only: '1.2',
    fields: [
      ...common,
      none('userSourcedId', 'profiles are accounts elsewhere', { required: true, refers: 'users.csv' }),
      none('profileType', 'profiles are accounts elsewhere', { required: true }),
      none('vendorId', 'profiles are accounts elsewhere', { required: true }),
      none('applicationId', 'profiles are accounts elsewhere'),
      none('description', 'profiles are accounts elsewhere'),
      none('credentialType', 'profiles are accounts elsewhere', { required: true }),
      none('username', 'profiles are accounts elsewhere', { required: true }),
      none('password', 'secrets are Sheaf’s own and no file’s'),
    ],
  },
  'enrollments.csv': {
    fields: [
      ...common,
      { name: 'classSourcedId', required: true, refers: 'classes.csv', into: 'enrollment.classId' },
      { name: 'schoolSourcedId', required: true, refers: 'orgs.csv', into: 'checked only' },
      { name: 'userSourcedId', required: true, refers: 'users.csv', into: 'enrollment.personId' },
      { name: 'role', required: true, words: enrollmentRoles, into: 'enrollment.role' },
      none('primary', 'co-teachers are equals', { kind: 'bool' }),
      { name: 'beginDate', kind: 'date', into: 'enrollment.begins' },
      { name: 'endDate', kind: 'date', into: 'enrollment.ends' },
    ],
  },
  'demographics.csv': {
    fields: [
      ...common,
      { name: 'birthDate', kind: 'date', into: 'person.birthDate' },
      ...[
        'sex',
        'americanIndianOrAlaskaNative',
        'asian',
        'blackOrAfricanAmerican',
        'nativeHawaiianOrOtherPacificIslander',
        'white',
        'demographicRaceTwoOrMoreRaces',
        'hispanicOrLatinoEthnicity',
        'countryOfBirthCode',
        'stateOfBirthAbbreviation',
        'cityOfBirth',
        'publicSchoolResidenceStatus',
      ].map((name) => none(name, notNeeded)),
    ],
  },
};

/** The fields of a file in the order of the standard. */
/** Which field of users.csv says which field of a person. */
export const userFields: [PersonField, string][] = spec['users.csv'].fields.flatMap(({ name, into }) => {
  const field = personFields.find((one) => into === `person.${one}`);
  return field ? [[field, name] as [PersonField, string]] : [];
});

export const fieldsOf = (file: FileName, version: Version): FieldSpec[] =>
  spec[file].fields.filter(({ only }) => !only || only === version);
