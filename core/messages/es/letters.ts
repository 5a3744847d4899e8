import type { letters as english } from '../en/letters';

export const letters: Record<keyof typeof english, string> = {
  passwordSubject: 'Elija una contraseña nueva para {district}',
  passwordBody:
    'Hola, {name}:\n\n{why} Su usuario es {username}.\n\nElija aquí una contraseña nueva. El enlace funciona una vez, durante {minutes} minutos:\n\n{link}\n\nSi no esperaba este mensaje, ignórelo. Su contraseña sigue igual.',
  whyForgotten: 'Alguien, probablemente usted, pidió una contraseña nueva.',
  whyCoordinator: 'Su coordinador le pide que elija una contraseña nueva.',
  invitationSubject: 'Su cuenta en {district}',
  invitationBody:
    'Hola, {name}:\n\n{district} creó una cuenta para usted. Su usuario es {username}.\n\nElija aquí su contraseña. El enlace es solo para usted y funciona durante {days} días:\n\n{link}\n\nSi este mensaje no es para usted, ignórelo.',
  digestSubject: '{district}: semana del {week}',
  digestHello: 'Buenos días, {name}:',
  digestSchool: '{school}, {n, plural, one {# estudiante} other {# estudiantes}}:',
  digestAll:
    'Todos tienen {link, select, account {cuenta} class {clase} seats {plaza} device {dispositivo} card {tarjeta vigente} other {primer acceso}}{change}',
  digestSome:
    'A {n} les falta {link, select, account {cuenta} class {clase} seats {plaza} device {dispositivo} card {tarjeta vigente} other {primer acceso}}{change}',
  digestFewer: ', {n} menos que hace una semana',
  digestMore: ', {n} más que hace una semana',
  digestAttention: 'Requiere atención:',
  digestOff: 'Su distrito puede desactivar estos mensajes en Configuración, Correo.',
};
