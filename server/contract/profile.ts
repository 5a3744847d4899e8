/** One's own account: password, second factors, sessions, drafts. */
export interface Profile {
  username: string;
  email: string | null;
  hasPassword: boolean;
  /** Whether the district's sign-on is set up, and linked to this account. */
  signOn: 'none' | 'open' | 'linked';
  factors: {
    /** The role must have one. */
    duty: boolean;
    app: boolean;
    recoveryLeft: number;
    passkeys: { id: string; name: string; createdAt: string; lastAt: string | null }[];
  };
  sessions: {
    id: string;
    createdAt: string;
    lastAt: string;
    way: string;
    browser: string;
    address: string;
    isThis: boolean;
  }[];
}

export interface ProfileApi {
  'GET /api/profile': { out: Profile };
  'POST /api/profile/confirm': { body: { password: string }; out: { ok: true } };
  'POST /api/profile/password': { body: { current: string; next: string }; out: { ok: true } };
  /** `id` null: all but this one. */
  'POST /api/profile/sessions/end': { body: { id: string | null }; out: { ended: number } };
  'POST /api/profile/app/begin': { out: { uri: string; secret: string; qr: string } };
  'POST /api/profile/app': { body: { code: string }; out: { recovery: string[] } };
  'POST /api/profile/passkeys/begin': { out: { options: unknown; token: string } };
  'POST /api/profile/passkeys': {
    body: { token: string; name: string; response: unknown };
    out: { recovery: string[] | null };
  };
  'POST /api/profile/recovery': { out: { recovery: string[] } };
  /** `id`: of a passkey, or "app". */
  'POST /api/profile/factors/remove': { body: { id: string }; out: { ok: true } };
  /** Where the browser is sent to link the account to the district's sign-on. */
  'POST /api/profile/sign-on': { out: { url: string } };
  /** What one was typing, by the name of the form; null: nothing is kept. */
  'GET /api/drafts': { query: { name: string }; out: { body: unknown } };
  'POST /api/drafts': { body: { name: string; body: unknown }; out: { savedAt: string | null } };
}
