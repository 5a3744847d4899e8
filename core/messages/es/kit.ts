import type { kit as english } from '../en/kit';

export const kit: Record<keyof typeof english, string> = {
  chooseAFile: 'Elegir archivo',
  coordinatorsCanOpenThisPage: 'Los coordinadores pueden abrir esta página. Si la necesita, pregunte a su coordinador.',
  couldntLoad: 'No se pudo cargar: {page}',
  couldntLoadAgainYouSee: 'No se pudo volver a cargar: {what}. Ve lo que había a las {timeWords}.',
  current: 'actual',
  goToToday: 'Ir a Hoy',
  itMayHaveBeenRemoved: 'Puede que se haya quitado o que el enlace sea incorrecto.',
  loading: 'Cargando {page}',
  loadingIsTakingLongerThan: 'Cargar {page} tarda más de lo normal.',
  more: 'Más',
  serverAnswered: 'El servidor respondió con un error ({status}). Intente otra vez.',
  serverDoesNotAnswer: 'El servidor no responde. Compruebe su conexión e intente otra vez.',
  thereIsNothingAtThis: 'No hay nada en esta dirección',
  thisPage: 'esta página',
  tryAgain: 'Intentar otra vez',
  yourRoleDoesNotAllow: 'Su función no lo permite',
  yyyyMmDd: 'AAAA-MM-DD',
};
