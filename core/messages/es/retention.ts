import type { retention as english } from '../en/retention';

export const retention: Record<keyof typeof english, string> = {
  aboutAPurgedPerson: 'sobre una persona depurada',
  aPlan: 'Un plan {about}',
  aPurgedList: 'una lista depurada',
  countOf: '{n, number} {kind}',
  filesListsContainNamesSo:
    'files: Las listas contienen nombres, así que no se pueden guardar más tiempo que las personas que se fueron.',
  importedListsThatAreDone: 'listas importadas ya terminadas',
  joinRequestsThatWereResolved: 'solicitudes de unión resueltas',
  logEntries: 'entradas de registro',
  peopleWhoLeft: '{count, plural, one {# persona} other {# personas}} que se fueron hasta {by}',
  peopleWhoLeftWithEverything: 'personas que se fueron, con todo lo que se guarda de ellas y lo que dicen los planes',
  productUsageResultsAndLevels: 'uso de productos, resultados y niveles',
  purged: 'Depurado: {what}. No se puede deshacer.',
  purgeOfOldRecords: 'Depuración de registros antiguos',
  purgingNotes: 'Depurando notas',
  purgingOldRecords: 'Depurando registros antiguos',
  purgingPlans: 'Depurando planes',
  purgingRows: 'Depurando filas',
  theLogPrintsPasswordsShown: 'el registro: impresiones, contraseñas mostradas, exportaciones, configuración',
  usageRecords: 'registros de uso',
  useUsageIsAboutPeople: 'use: El uso es sobre personas, así que no se puede guardar más tiempo que ellas.',
};
