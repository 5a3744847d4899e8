import type { worksheet as english } from '../en/worksheet';

export const worksheet: Record<keyof typeof english, string> = {
  actions: 'Acciones',
  columns: 'Columnas',
  columnsOf: 'Columnas de {of}',
  csv: 'CSV',
  export: 'Exportar',
  gathered: 'reunidos',
  moveToTheLeft: 'Mover {label} a la izquierda',
  moveToTheRight: 'Mover {label} a la derecha',
  notGathered: 'no reunido',
  nothingHere: 'No hay nada.',
  resetColumns: 'Restablecer columnas',
  rosterBundle: 'Paquete de listas',
  shiftSortsBySeveral: 'Mayús ordena por varias columnas',
  showAll: 'Mostrar los {n}',
  showFewer: 'Mostrar menos',
  workbook: 'Libro',
};
