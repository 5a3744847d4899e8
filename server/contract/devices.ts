/** Devices, loans, carts, bookings, and the scan loop. */
import type { Cart, Device, DeviceCondition, Loan } from '#core/entities/index';
import type { CartTrouble, DeviceField, InventoryProblem, Mode, Refresh, Tone } from '#core/devices/index';
import type { Facet } from './people';

/** Where a device is: with somebody, in order and with nobody, past its day, or out of use. */
export type DeviceWhere = 'out' | 'free' | 'late' | 'repair' | 'missing';
export interface DeviceFilter {
  school?: string;
  model?: string;
  where?: DeviceWhere;
  cart?: string;
  /** Begins a tag, a serial number or the name of who has it. */
  q?: string;
}
export interface DeviceRow extends Device {
  school: string;
  cart: string | null;
  personId: string | null;
  holder: string | null;
  kind: Loan['kind'] | null;
  due: string | null;
  late: boolean;
}
export interface DevicePage {
  rows: DeviceRow[];
  next: string | null;
}
export interface DeviceFacets {
  total: number;
  school: Facet[];
  model: Facet[];
  where: Facet[];
}
export interface DeviceSheet {
  device: DeviceRow;
  loans: (Loan & { holder: string })[];
}

export interface CartRow extends Cart {
  school: string;
  working: number;
  places: { slot: number; deviceId: string; tag: string; condition: DeviceCondition; out: boolean }[];
  bookings: {
    id: string;
    classId: string;
    class: string;
    students: number;
    weekday: number;
    period: string;
    begins: string;
    ends: string | null;
  }[];
}
export interface Carts {
  carts: CartRow[];
  troubles: (Omit<CartTrouble, 'bookings'> & { cart: string; text: string; bookingIds: string[] })[];
}

/** What waits to be done with devices, for Today and the place. */
export interface DeviceOverview {
  late: number;
  repair: number;
  missing: number;
  /** In order and with nobody, outside of carts. */
  spare: number;
  troubles: string[];
  /** Grades in which everyone gets one, and what the assignment would do. */
  oneToOne: {
    grades: string[];
    lacking: number;
    moves: number;
    kept: number;
    unmet: number;
    mixed: number;
    shortYears: number;
    /** Where somebody stays without: what lies there and is not given, and what would do at other schools. */
    notGiven: { inCarts: number; unfit: number; elsewhere: number };
  };
  refresh: Refresh[];
  /** Classes in which devices are still out. */
  collect: { classId: string; name: string; school: string; students: number; out: number }[];
}

export interface InventoryPreview {
  headings: string[];
  columns: (DeviceField | null)[];
  /** The first rows, as they stand. */
  rows: { line: number; cells: string[] }[];
  total: number;
  fresh: number;
  changed: number;
  same: number;
  problems: InventoryProblem[];
  problemCount: number;
}
export interface InventoryOrder {
  /** The file's bytes in base 64, or what was pasted. */
  file: { name: string; base64: string } | null;
  text: string;
  schoolId: string | null;
  picked: Record<number, DeviceField | null>;
}

export interface ScanBatch {
  /** The place where it is scanned: an id that its browser made once. */
  station: string;
  /**
   * In the order in which they were scanned; `seq` counts up by one without gaps. A loan that a scan makes ends on its
   * day `due`; null: the device is its holder's own.
   */
  scans: { seq: number; text: string; due: string | null }[];
}
export interface ScanAnswer {
  /** The last one that is booked. */
  seq: number;
  mode: Mode;
  /** Answers to the scans of the batch, those that were booked before among them. */
  said: { seq: number; tone: Tone; text: string }[];
}

export interface DevicesApi {
  'GET /api/devices': { query: DeviceFilter & { after?: string; limit?: number }; out: DevicePage };
  'GET /api/devices/facets': { query: DeviceFilter; out: DeviceFacets };
  'GET /api/devices/overview': { query: { school?: string }; out: DeviceOverview };
  'GET /api/devices/:id': { out: DeviceSheet };
  'POST /api/devices/:id/edit': {
    body: {
      field:
        | 'tag'
        | 'serial'
        | 'model'
        | 'boughtOn'
        | 'warrantyEnds'
        | 'updatesEnd'
        | 'condition'
        | 'cartId'
        | 'slot'
        | 'room';
      before: string | number | null;
      after: string | number | null;
    };
    out: { planId: string };
  };
  'POST /api/devices/:id/lend': {
    body: { personId: string; kind: Loan['kind']; due: string | null };
    out: { planId: string };
  };
  'POST /api/devices/:id/back': { out: { planId: string } };
  'POST /api/devices/assign': { body: { school: string | null }; out: { jobId: string } };
  'POST /api/inventory/preview': { body: InventoryOrder; out: InventoryPreview };
  'POST /api/inventory/plan': { body: InventoryOrder; out: { planId: string } };
  'GET /api/carts': { query: { school?: string }; out: Carts };
  'POST /api/carts': {
    body: { schoolId: string; name: string; slots: number; room: string | null };
    out: { planId: string; id: string };
  };
  /** Free devices into free slots of carts. */
  'POST /api/carts/fill': { body: { school: string | null }; out: { jobId: string } };
  'POST /api/bookings': {
    body: { cartId: string; classId: string; weekday: number; period: string; begins: string };
    out: { planId: string };
  };
  'POST /api/bookings/:id/move': { body: { cartId: string }; out: { planId: string } };
  'POST /api/bookings/:id/end': { out: { planId: string } };
  'POST /api/scans': { body: ScanBatch; out: ScanAnswer };
}
