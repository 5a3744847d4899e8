import type { handouts as english } from '../en/handouts';

export const handouts: Record<keyof typeof english, string> = {
  code: 'Código',
  countBadges: '{n, plural, one {# credencial} other {# credenciales}}',
  countCards: '{n, plural, one {# tarjeta} other {# tarjetas}}',
  countLabels: '{n, plural, one {# etiqueta} other {# etiquetas}}',
  countLetters: '{n, plural, one {carta para # estudiante} other {cartas para # estudiantes}}',
  countList: '{n, plural, one {# línea} other {# líneas}}',
  countStrips: '{n, plural, one {# tira} other {# tiras}}',
  drawing: 'Dibujando {said}',
  loginCards: 'Tarjetas de acceso',
  noneOfThemHasAn: 'Ninguno tiene una cuenta con contraseña para imprimir.',
  openPdf: 'Abrir PDF',
  openUntil: '{school}. Abierto hasta el {day, date, day}.',
  printed: 'Impreso el {day, date, day}.',
  readyToPrint: '{said} para imprimir.',
  thereAreMoreThanLabels: 'Hay más de {most} etiquetas. Reduzca la lista por escuela o por modelo.',
  thereAreNoDevicesTo: 'No hay dispositivos para imprimir etiquetas.',
};
