import type { common as english } from '../en/common';

export const common: Record<keyof typeof english, string> = {
  back: 'Atrás',
  cancel: 'Cancelar',
  class: 'Clase',
  close: 'Cerrar',
  copy: 'Copiar',
  done: 'Listo',
  edit: 'Editar',
  end: 'Terminar',
  grade: 'Grado',
  name: 'Nombre',
  none: 'Ninguno',
  number: 'Número',
  print: 'Imprimir',
  remove: 'Quitar',
  school: 'Escuela',
  students: 'Estudiantes',
  teachers: 'Maestros',
  undo: 'Deshacer',
  username: 'Usuario',
};
