import type { jobs as english } from '../en/jobs';

export const jobs: Record<keyof typeof english, string> = {
  directorySent:
    '{sent, number} al día{failed, plural, =0 {} other {, # rechazados}}{left, plural, =0 {} other {, # en espera}}.',
  directoryUpToDate: 'El directorio está al día.',
  drawingCards: 'Dibujando tarjetas',
  everythingIsSealedWithThe: 'Todo está sellado con la clave nueva.',
  findingWhatIsDue: 'Buscando lo pendiente',
  importOf: 'Importación de {fileName}',
  invitationsSent:
    '{sent, plural, one {Se envió # invitación} other {Se enviaron # invitaciones}}.{failed, plural, =0 {} other { # no se pudieron enviar. Vea Configuración, Personal y roles.}}',
  noDeviceCanBeAssigned: 'No se puede asignar ningún dispositivo a quien lo necesita, así que no hay plan.',
  noDeviceIsAvailableFor: 'No hay dispositivos para las ranuras libres, así que no hay plan.',
  noDirectoryIsSetUp: 'No hay directorio configurado. Defina SHEAF_DIRECTORY_URL y SHEAF_DIRECTORY_TOKEN.',
  noSeatWouldChangeSo: 'No cambiaría ninguna plaza, así que no hay plan.',
  nothingIsDueSoNothing: 'No hay nada pendiente, así que no se depuró nada.',
  nothingWasChangedFreeSome: '{short} No se cambió nada. Libere espacio y empiece otra vez.',
  nothingWasKeptYouCan: 'No se conservó nada. Puede empezar otra vez.',
  nothingWouldChangeSoThere: 'No cambiaría nada, así que no hay plan.',
  passwordsRenewed:
    '{count, plural, one {La contraseña anterior volvería a funcionar, así que se hizo otra. Imprima la tarjeta otra vez.} other {Las contraseñas anteriores volverían a funcionar, así que se hicieron # nuevas. Imprima las tarjetas otra vez.}}',
  savingThePlan: 'Guardando el plan',
  sealingAgain: 'Sellando otra vez',
  sendingMail: 'Enviando correo',
  sendingToTheDirectory: 'Enviando al directorio',
  somethingWentWrongOnThe: 'Algo falló en el servidor. {rest}',
  theConnectionToTheDatabase: 'Se perdió la conexión con la base de datos. {rest}',
  theDirectoryIsUpTo: 'El directorio está al día: {n, number} entradas comparadas.',
  theServerStoppedInThe: 'El servidor se detuvo a la mitad. {rest}',
  thisPrintIsTooLarge: 'Esta impresión es demasiado grande. Imprima por escuela o por clase.',
  thisServerGaveUpThe: 'Este servidor abandonó la tarea, así que no se conservó nada.',
  thisTookTheDatabaseToo: 'La base de datos tardó demasiado y se detuvo. {rest}',
  whatWasDoneSoFar: 'Se conserva lo hecho hasta ahora. Empiece otra vez para el resto.',
};
