export const worksheet = {
  columns: 'Columns',
  columnsOf: 'Columns of {of}',
  csv: 'CSV',
  export: 'Export',
  gathered: 'gathered',
  moveToTheLeft: 'Move {label} to the left',
  moveToTheRight: 'Move {label} to the right',
  notGathered: 'not gathered',
  nothingHere: 'Nothing here.',
  resetColumns: 'Reset columns',
  rosterBundle: 'Roster bundle',
  workbook: 'Workbook',
};
