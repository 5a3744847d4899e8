/**
 * What a column is: the words that offices write above it, and what its cells look like. A header word that is known
 * decides; else the cells vote.
 */
import { fold } from '#core/names/index';
import { isGivenName } from '#core/names/nicknames';
import type { Field } from './fields';
import { parseGrade, parseRole, readDate, dateOrders } from './values';

/** Header words, folded, with the plainest of French, Spanish and German. Common practice: nothing published. */
const synonyms: Record<Exclude<Field, 'skip'>, string> = {
  number:
    'number|student number|student no|student id|id|id number|staff id|staff number|staff no|employee id|employee number|employee no|teacher id|teacher number|person id|user id|unique id|upn|admission number|admission no|enrolment number|enrollment number|stu id|student ref|pupil ref|pupil number|pupil no|pupil id|no|nr|learner id|learner number|register number|reg no|local id|student code|sis id',
  familyName:
    'family name|last name|surname|last|lastname|family|sn|second name|legal last name|legal surname|nom|nom de famille|apellido|apellidos|nachname|familienname',
  givenName:
    'given name|first name|forename|first|firstname|given|fname|given names|forenames|legal first name|christian name|prenom|nombre|nombres|vorname',
  preferredName:
    'preferred name|preferred first name|preferred given name|preferred forename|known as|goes by|nickname|usual name|chosen name|nombre preferido|prenom usuel|rufname',
  middleName: 'middle name|middle|middle initial|mi|middle names|second forename',
  fullName: 'name|full name|student name|student|pupil name|pupil|learner|display name|whole name|learner name',
  birthDate:
    'birth date|date of birth|dob|birthdate|birthday|born|d o b|birth|date birth|date de naissance|ne le|fecha de nacimiento|geburtsdatum|geburtstag',
  grade: 'grade|grades|grade level|year level|yr|year|year group|gr|level|current grade|grd|grado|jahrgang',
  className:
    'class|homeroom|form|class name|section|home room|hmrm|hrm|form group|tutor group|room|hr|registration group|class code|classe|clase|grupo|klasse',
  schoolName: 'school|school name|campus|site|building|escuela|ecole|schule',
  email: 'email|e mail|email address|student email|mail|school email',
  guardianEmail:
    'guardian|guardians e mail|guardians email|parents e mail|parent|guardian address|home contact|contact|family contact|guardian email|parent email|parents email|family email|contact email|guardian e mail|parent e mail|parent guardian email|guardian mail|primary contact email|contact 1 email|carer email',
  role: 'role|user role|person type|type of user|user type',
  subject: 'subject|course|course name|course title|subject name',
  teacher: 'teacher|teacher name|class teacher|homeroom teacher|form tutor|tutor|lead teacher|instructor',
};

const words = new Map<string, Field>();
for (const [field, list] of Object.entries(synonyms))
  for (const word of list.split('|')) words.set(word, field as Field);

/** The field that a header word names, with a confidence between 0 and 1; null if the word says nothing. */
export function fieldOfHeader(header: string): { field: Field; confidence: number } | null {
  const plain = header.replaceAll('_', ' ').replaceAll('#', ' number ');
  // "StudentID" is two words, "DoB" is one.
  const word = fold(plain.replace(/([a-z])([A-Z])/g, '$1 $2'));
  const exact = words.get(word) ?? words.get(fold(plain));
  if (exact) return { field: exact, confidence: 0.97 };
  // "Student: Last Name", "Legal surname (as on passport)": the longest known phrase inside.
  let best: { field: Field; length: number } | null = null;
  for (const [phrase, field] of words) {
    if (phrase.length < 4 || (best && phrase.length <= best.length)) continue;
    if (` ${word} `.includes(` ${phrase} `)) best = { field, length: phrase.length };
  }
  return best && { field: best.field, confidence: 0.75 };
}

/** The field that the cells of a column look like, with a confidence; 'skip' with 0 if like nothing. */
export function fieldOfCells(cells: string[]): { field: Field; confidence: number } {
  const filled = cells.map((cell) => cell.trim()).filter((cell) => cell !== '');
  if (filled.length === 0) return { field: 'skip', confidence: 0.5 };
  const share = (test: (cell: string) => boolean) => filled.filter(test).length / filled.length;
  const distinct = new Set(filled).size / filled.length;

  const dates = Math.max(...dateOrders.map((order) => share((cell) => readDate(cell, order) !== null)));
  if (dates > 0.8) return { field: 'birthDate', confidence: 0.8 * dates };
  const mails = share((cell) => /^\S+@\S+\.\S+$/.test(cell));
  if (mails > 0.8) return { field: distinct > 0.98 ? 'email' : 'guardianEmail', confidence: 0.6 * mails };
  // "x" is a tick more often than a Roman ten.
  const grades = share((cell) => parseGrade(cell) !== null && !/^x$/i.test(cell));
  if (grades > 0.9 && new Set(filled).size <= 14) return { field: 'grade', confidence: 0.7 * grades };
  const codes = share((cell) => /^[A-Z]{0,3}\d{4,12}$/i.test(cell));
  if (codes > 0.9 && distinct > 0.95) return { field: 'number', confidence: 0.75 * codes };
  const roles = share((cell) => parseRole(cell) !== null);
  if (roles > 0.9 && new Set(filled).size <= 6) return { field: 'role', confidence: 0.7 * roles };
  const commas = share((cell) => /^\p{L}[\p{L}'’ .-]*, ?\p{L}/u.test(cell));
  if (commas > 0.8) return { field: 'fullName', confidence: 0.75 * commas };
  const classes = share((cell) => /^([kp]|0?\d|1[0-3])\s?[-./ ]?\s?[a-z]{1,3}$/i.test(cell));
  if (classes > 0.85) return { field: 'className', confidence: 0.7 * classes };
  const words = share((cell) => /^\p{L}[\p{L}'’. -]*$/u.test(cell) && cell.length > 1);
  if (words > 0.9 && distinct > 0.2) {
    // Without a heading, the column with the known given names is the given one.
    const known = share((cell) => isGivenName(fold(cell).split(' ')[0]!));
    const several = share((cell) => /\p{L} \p{L}/u.test(cell));
    if (several > 0.7) return { field: 'fullName', confidence: 0.5 * several };
    return known > 0.3
      ? { field: 'givenName', confidence: 0.4 + known / 3 }
      : { field: 'familyName', confidence: 0.55 - known };
  }
  if (distinct < 0.35 && share((cell) => cell.length <= 14) > 0.95) return { field: 'className', confidence: 0.4 };
  return { field: 'skip', confidence: 0 };
}
