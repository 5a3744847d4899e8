import type { directory as english } from '../en/directory';

export const directory: Record<keyof typeof english, string> = {
  anotherAccountInTheDirectory: 'Otra cuenta del directorio ya tiene el usuario {username}.',
  correctTheDirectoryDifferences: 'Corregir el directorio: {count, plural, one {# diferencia} other {# diferencias}}',
  displayName: 'nombre visible',
  isInTheDirectoryBut: '{name} está en el directorio, pero no viene de Sheaf. Se queda como está.',
  isMissingFromTheDirectory: 'falta en el directorio',
  isShouldBe: '{field} es {held}, debería ser {wanted}',
  itAnswered: 'Respondió {status}.',
  itsAnswerIsNotA: 'Su respuesta no es un recurso SCIM.',
  itsAnswerIsNotScim: 'Su respuesta no es SCIM. Revise su dirección.',
  members: '{count} miembros',
  shouldNotBeInIt: 'sobran {count}, faltan {missing}',
  theAnswerWasLost: 'Se perdió la respuesta.',
};
