export { assign, type Assigned, costOf, modelsOf, type Place, type Stock } from './assign';
export { type Booked, type CartState, type CartTrouble, cartTroubles, freeCarts } from './carts';
export {
  beginning,
  type Mode,
  modeCodes,
  modeTexts,
  type Said,
  scan,
  type Scan,
  type Scanned,
  type ScanState,
  type ScanTools,
  type Tone,
} from './scan';
export { canBeGiven, type Refresh, refresh, replaceOn, yearsUntil } from './stock';
export {
  type DeviceField,
  deviceFields,
  type InventoryPlan,
  type InventoryProblem,
  type InventoryReading,
  planInventory,
  readHeadings,
} from './inventory';
