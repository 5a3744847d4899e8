/**
 * Who may make which change. Each change of a plan is checked by its subject: the school of the person, the class or
 * the device. The check runs when the plan is stored and again when it is applied or undone, with the role and the
 * places that the actor has at that moment. No other module decides this.
 */
import { type RuleTerms, type TermFields, termsOf } from '#core/licenses/index';
import type { Change, Fields, Value } from '#core/plan/index';
import { declarationOf, type Entity, entityNames, fieldsThat } from '#core/entities/index';
import { type Actor, isEverywhere, may, type Right, roleOf } from './roles';

/** What a check asks of the register as it is now. */
export interface Facts {
  /** The columns of a changed row that refer to other rows; empty for a row that is not there. */
  row: (entity: string, id: string) => Fields;
  /** Schools of the places that count for a person, see scope. */
  schoolsOf: (personId: string) => readonly string[];
  /** Classes that a person is in as a student. */
  classesOf: (personId: string) => readonly string[];
  /** The role of a person's account; null: none. */
  accountRole: (personId: string) => string | null;
}

/** The only reasons for which a change is refused. */
export type Refused = 'right' | 'elsewhere' | 'rank';

/**
 * Leave to do one thing that one's role does not give. `opening`: makes the register itself. `join`: a code lets this
 * person into this class. `transfer`: both schools agreed that this person changes from one to the other.
 */
export type Grant =
  | { is: 'opening' }
  | { is: 'join'; personId: string; classId: string }
  | { is: 'transfer'; personId: string; schoolIds: readonly string[] };

const text = (value: Value | undefined): string | null => (typeof value === 'string' ? value : null);

/** Whether one may act on the record of a person: nobody acts on a person of a higher rank or with a wider scope. */
export function mayActOn(actor: Actor, subject: { role: string | null; schoolIds: readonly string[] }): boolean {
  if (subject.role === null) return true;
  const [mine, theirs] = [roleOf(actor.role), roleOf(subject.role)];
  if (theirs.rank > mine.rank) return false;
  if (isEverywhere(actor) || theirs.scope === 'self') return true;
  // Of one's own rank or below, but also at a school that is not the actor's: only somebody with both schools may.
  return subject.schoolIds.every((id) => actor.schoolIds.includes(id));
}

/** Whether one may give a role to a person: none above one's own, and only with the right to. */
export function mayGiveRole(actor: Pick<Actor, 'role'>, role: string): boolean {
  const { rank } = roleOf(role);
  if (rank < 0 || rank > roleOf(actor.role).rank) return false;
  return may(actor, role === 'district' ? 'roles.district' : 'roles.school');
}

/** Checks the changes of one plan in their order; remembers what the plan itself makes. */
export class ChangeCheck {
  private readonly actor: Actor;
  /** Rows that the plan makes, by entity and id. */
  private readonly made = new Map<string, Fields>();
  /** Schools at which the plan places people, and classes into which it puts students. */
  private readonly places = new Map<string, string[]>();
  private readonly joins = new Map<string, string[]>();

  constructor(
    actor: Actor,
    private readonly facts: Facts,
    private readonly grant: Grant | null = null,
  ) {
    this.actor = grant?.is === 'transfer' ? { ...actor, role: 'school', schoolIds: grant.schoolIds } : actor;
  }

  /** Whether everything is allowed without a look at any change. */
  get isOpen(): boolean {
    return this.grant?.is === 'opening';
  }

  /** Why the actor may not make the change; null: they may. */
  refusal(change: Change): Refused | null {
    if (this.isOpen) return null;
    if (this.grant?.is === 'join') return joins(change, this.grant) ? null : 'right';
    if (change.op === 'create') this.note(change);
    const row = { ...this.rowOf(change.entity, change.id), ...change.before, ...change.after };
    if (this.grant?.is === 'transfer' && this.personOf(change, row) !== this.grant.personId) return 'right';
    return this.ask(change, row);
  }

  private ask(change: Change, row: Fields): Refused | null {
    const { actor } = this;
    const entity = change.entity as Entity;
    const right = rightFor(change);
    if (right === null || !may(actor, right)) return 'right';
    if (entity === 'account' || entity === 'person' || entity === 'contact' || entity === 'affiliation') {
      const personId = entity === 'person' ? change.id : text(row.personId);
      if (personId !== null) {
        const subject = { role: this.facts.accountRole(personId), schoolIds: this.facts.schoolsOf(personId) };
        if (!mayActOn(actor, subject)) return 'rank';
      }
      if (entity === 'account') {
        const refused = this.account(change, row);
        if (refused) return refused;
      }
    }
    if (isEverywhere(actor)) return null;
    return this.isTheirs(change, row) ? null : 'elsewhere';
  }

  /** Roles are given by rank; printable passwords are the students' alone; a chosen password is only ever its owner's. */
  private account(change: Change, row: Fields): Refused | null {
    const { actor } = this;
    for (const role of [change.before.role, change.after.role].flatMap((one) => text(one) ?? []))
      if (role !== 'student' && !mayGiveRole(actor, role)) return 'rank';
    if (change.op === 'update' && 'passwordHash' in change.after) return 'right';
    if ('secretSealed' in change.after && change.op === 'update') {
      const role = text(row.role) ?? this.facts.accountRole(text(row.personId) ?? '');
      if (role !== 'student') return 'right';
    }
    return null;
  }

  private isTheirs(change: Change, row: Fields): boolean {
    const { op } = change;
    switch (change.entity as Entity) {
      case 'school':
        return this.atSchool(change.id);
      case 'person':
        return this.hasPerson(change.id);
      case 'contact':
      case 'account':
        return this.hasPerson(text(row.personId));
      case 'seat':
        return this.hasPerson(text(row.personId));
      case 'affiliation':
        return this.hasPerson(text(row.personId)) && this.atSchool(text(row.schoolId));
      case 'class':
        return this.schools(change, row).every((id) => this.atSchool(id)) && this.runsClass(change.id, op);
      case 'enrollment':
        return this.enrollment(change, row);
      case 'group':
        return this.ofClassOrSchool(text(row.classId), text(row.schoolId));
      case 'membership': {
        const group = this.rowOf('group', text(row.groupId) ?? '');
        return this.ofClassOrSchool(text(group.classId), text(group.schoolId));
      }
      case 'license':
        return this.schools(change, row).every((id) => this.atSchool(id));
      case 'rule':
        // Before and after, as of devices.
        return [{ ...this.rowOf('rule', change.id), ...change.before }, row].every((one) => this.ofRule(one));
      case 'device':
      case 'cart':
        return this.schools(change, row).every((id) => this.atSchool(id));
      case 'loan': {
        // A device is its school's: given out to people of one's own, taken back from anyone. When it is due is also
        // for the school of the person who has it.
        const device = this.atSchool(text(this.rowOf('device', text(row.deviceId) ?? '').schoolId));
        const person = () => this.hasPerson(text(row.personId));
        if (op === 'create' || op === 'restore') return device && person();
        return device || (op === 'update' && person());
      }
      case 'booking': {
        const cart = this.atSchool(text(this.rowOf('cart', text(row.cartId) ?? '').schoolId));
        return (
          cart && (roleOf(this.actor.role).scope !== 'classes' || this.runsClass(text(row.classId) ?? '', 'update'))
        );
      }
      case 'work':
        return this.runsClass(text(row.classId) ?? '', 'update');
      case 'assignee':
        return this.runsClass(text(this.rowOf('work', text(row.workId) ?? '').classId) ?? '', 'update');
      default:
        return false;
    }
  }

  /**
   * Into a class that one runs come people of one's own schools. Out of it anyone may go; out of a class of others only
   * people of one's own schools, and for a teacher only those who are in their class now or come into it by this plan.
   */
  private enrollment({ op }: Change, row: Fields): boolean {
    const { actor } = this;
    const [personId, classId] = [text(row.personId), text(row.classId)];
    if (personId === null || classId === null) return false;
    const runs = this.runsClass(classId, 'update');
    if (op === 'end' || op === 'purge' || op === 'update') {
      if (runs) return true;
      return roleOf(actor.role).scope === 'classes' ? this.studiesHere(personId) : this.hasPerson(personId);
    }
    const own = personId === actor.personId || this.schoolsOf(personId).some((id) => actor.schoolIds.includes(id));
    if (op === 'restore' && !runs) return roleOf(actor.role).scope === 'classes' && own && this.studiesHere(personId);
    return runs && own;
  }

  private studiesHere(personId: string): boolean {
    const classes = [...this.facts.classesOf(personId), ...(this.joins.get(personId) ?? [])];
    return classes.some((id) => this.runsClass(id, 'update'));
  }

  /** A rule is theirs whose classes they run; one that names no class, whose schools are theirs. */
  private ofRule(row: Fields): boolean {
    const { schools, classes } = ruleTerms(row);
    if (classes.length > 0) return classes.every((id) => this.runsClass(id, 'update'));
    return schools.length > 0 && schools.every((id) => this.atSchool(id));
  }

  private ofClassOrSchool(classId: string | null, schoolId: string | null): boolean {
    return classId === null
      ? roleOf(this.actor.role).scope === 'schools' && this.atSchool(schoolId)
      : this.runsClass(classId, 'update');
  }

  private schoolsOf(personId: string): readonly string[] {
    return this.made.has(`person:${personId}`) ? (this.places.get(personId) ?? []) : this.facts.schoolsOf(personId);
  }

  private hasPerson(personId: string | null): boolean {
    if (personId === null) return false;
    const { actor } = this;
    if (roleOf(actor.role).scope === 'classes') return this.studiesHere(personId);
    const schools = this.schoolsOf(personId);
    // Of a person made by the plan it is seen at their place whether they are the actor's.
    if (this.made.has(`person:${personId}`) && schools.length === 0) return true;
    return schools.some((id) => actor.schoolIds.includes(id));
  }

  private atSchool(id: string | null): boolean {
    return id !== null && this.actor.schoolIds.includes(id);
  }

  private runsClass(id: string, op: Change['op']): boolean {
    const { actor } = this;
    const row = this.rowOf('class', id);
    if (!this.atSchool(text(row.schoolId))) return false;
    if (roleOf(actor.role).scope !== 'classes') return true;
    return op === 'create' || this.made.has(`class:${id}`) || actor.classIds.includes(id);
  }

  /** Before and after: a device that goes to another school is a matter of both. */
  private schools({ entity, id, before, after }: Change, row: Fields): (string | null)[] {
    const now = this.rowOf(entity, id).schoolId;
    const all = [now, before.schoolId, after.schoolId].filter((one) => one !== undefined);
    return (all.length > 0 ? all : [row.schoolId]).map(text);
  }

  private personOf({ entity, id }: Change, row: Fields): string | null {
    return entity === 'person' ? id : text(row.personId);
  }

  private rowOf(entity: string, id: string): Fields {
    return this.made.get(`${entity}:${id}`) ?? this.facts.row(entity, id);
  }

  private note({ entity, id, after }: Change): void {
    this.made.set(`${entity}:${id}`, after);
    const person = text(after.personId);
    const add = (to: Map<string, string[]>, value: string | null) => {
      if (person !== null && value !== null) to.set(person, [...(to.get(person) ?? []), value]);
    };
    if (entity === 'affiliation') add(this.places, text(after.schoolId));
    if (entity === 'enrollment' && after.role === 'student') add(this.joins, text(after.classId));
  }
}

const joins = ({ entity, op, after }: Change, { personId, classId }: Extract<Grant, { is: 'join' }>): boolean =>
  entity === 'enrollment' && op === 'create' && after.personId === personId && after.classId === classId;

/** The right that a change of an entity asks for; null: nobody has one. */
function rightFor({ entity, op, before, after }: Change): Right | null {
  switch (entity as Entity) {
    case 'school':
      return op === 'update' ? 'schools.edit' : 'schools.make';
    case 'district':
    case 'term':
    case 'dayOff':
      return 'settings.change';
    case 'year':
      return 'year';
    case 'person':
    case 'contact':
      return 'people.edit';
    case 'affiliation':
      return 'people.verbs';
    case 'account':
      return op === 'update' && 'secretSealed' in after ? 'passwords.reset' : 'people.verbs';
    case 'seat':
      return 'people.verbs';
    case 'enrollment':
      return 'classes.make';
    case 'class':
      return 'invite' in after && op === 'update' ? 'classes.all' : 'classes.make';
    case 'group':
    case 'membership':
      return 'groups';
    case 'license':
      return (before.schoolId ?? after.schoolId ?? undefined) === undefined && op === 'create'
        ? 'products.keep'
        : 'licenses.keep';
    case 'rule':
      return 'licenses.keep';
    case 'product':
      return 'products.keep';
    case 'material':
      return 'materials.keep';
    case 'device':
    case 'cart':
    case 'loan':
      return 'devices';
    case 'booking':
      return 'carts.book';
    case 'work':
    case 'assignee':
      return 'work';
    case 'directory':
      return 'directory';
    default:
      return null;
  }
}

/** Entities by whose rows a check finds whose a change is. */
const ofScope: ReadonlySet<string> = new Set<Entity>([
  ...(['person', 'school', 'class', 'group', 'license', 'device', 'cart', 'work'] as const),
]);
/** The columns that a check reads of each entity: those that name a person or a place, and the role. */
export const referenceColumns: Readonly<Record<Entity, readonly string[]>> = Object.fromEntries(
  entityNames.map((entity) => {
    const { fields } = declarationOf(entity)!;
    const named = fieldsThat(entity, ({ facts }) => ofScope.has(facts.refers ?? '') && facts.refers !== entity);
    if (entity === 'rule') return [entity, [...named, 'terms']];
    return [entity, 'personId' in fields && 'role' in fields ? [...named, 'role'] : named];
  }),
) as Record<Entity, string[]>;

/** The terms of an entitlement rule, from what is known of its row. */
export function ruleTerms(row: Fields): RuleTerms {
  const said = (field: keyof TermFields) => text(row[field]);
  return termsOf({
    ...{ schoolId: said('schoolId'), grade: said('grade'), subject: said('subject'), classId: said('classId') },
    terms: said('terms'),
  });
}

/** Columns by which a row refers to one of another entity that a check asks about in turn. */
const further: ReadonlySet<string> = new Set<Entity>(['class', 'group', 'device', 'cart', 'work']);
export const refersTo: Readonly<Record<string, Entity>> = Object.fromEntries(
  entityNames.flatMap((entity) =>
    Object.entries(declarationOf(entity)!.fields).flatMap(([field, { facts }]) =>
      further.has(facts.refers ?? '') ? [[field, facts.refers as Entity]] : [],
    ),
  ),
);
