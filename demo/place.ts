/** Where the demo's district is: IANA. */
export const demoZone = 'America/New_York';
