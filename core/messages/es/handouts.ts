import type { handouts as english } from '../en/handouts';

export const handouts: Record<keyof typeof english, string> = {
  code: 'Código',
  countBadges: '{n, plural, one {# credencial} other {# credenciales}}',
  countCards: '{n, plural, one {# tarjeta} other {# tarjetas}}',
  countLabels: '{n, plural, one {# etiqueta} other {# etiquetas}}',
  countList: '{n, plural, one {# línea} other {# líneas}}',
  countStrips: '{n, plural, one {# tira} other {# tiras}}',
  drawing: 'Dibujando {said}',
  openPdf: 'Abrir PDF',
  readyToPrint: '{said} para imprimir.',
};
