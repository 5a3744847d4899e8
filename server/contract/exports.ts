/** Worksheets that are to be had as files, at /api/exports/:list?format=csv|xlsx; people also as a roster bundle. */
export const exportNames = [
  'people',
  'classes',
  'devices',
  'materials',
  'work',
  'progress',
  'use',
  'products',
  'ledger',
  'as-of',
  'changes',
  'archive',
  'sections',
  'leavers',
  'template',
] as const;
export type ExportName = (typeof exportNames)[number];
