export { allocate, type Allocated, type Claim, type Pool } from './allocate';
export { busiest, course, heldBeyond, type Step } from './course';
export { dateOf, type Day, dayOf, never } from './days';
export { type NextOf, promoted } from './foresee';
export { type ClassShare, partial, priceOf, worst } from './gaps';
export {
  type ClassFacts,
  type Entitled,
  entitledBy,
  type Holder,
  type Need,
  needs,
  type RuleBook,
  type Span,
  spanOf,
} from './needs';
export {
  type Given,
  type Held,
  type PoolSpan,
  type Proposal,
  propose,
  type Question,
  type Short,
  type Taken,
  type TakenWhy,
} from './propose';
export { anyone, type RuleTerms, termFields, type TermFields, termsOf } from './terms';
