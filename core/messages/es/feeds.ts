import type { feeds as english } from '../en/feeds';

export const feeds: Record<keyof typeof english, string> = {
  couldntOpenTheFolderCheck: 'No se pudo abrir la carpeta {folder}. Revise su nombre y sus permisos.',
  enterTheFolderToWatch: 'Escriba la carpeta que se debe vigilar.',
  enterTheServicesAddressIts: 'Escriba la dirección del servicio, la de sus tokens y el nombre del cliente.',
  feedsMayNotReadThe: 'Las fuentes no pueden leer la carpeta {folder}. Elija una dentro de {list}.',
  getting: 'Obteniendo {path}',
  isNotEncryptedUseAn: '{origin} no está cifrado. Use una dirección que empiece con https.',
  isOnAPrivateNetwork:
    '{host} está en una red privada. Quien administra el servidor puede permitirlo en SHEAF_FEED_HOSTS.',
  mayNoLongerRunThis: '{who} ya no puede usar esta fuente. Para usarla en su nombre, ábrala y guárdela.',
  secretTheTokenAddressChanged:
    'secret: La dirección de los tokens cambió. Escriba otra vez la clave para no enviarla a un lugar equivocado.',
  thePersonWhoSetIt: 'La persona que la configuró',
  thereIsAlreadyAFeed: 'Ya hay una fuente llamada “{name}”. Elija otro nombre.',
  thereIsNoHostNamed: 'No existe el servidor {host}. Revise la dirección.',
  theServiceAtIsNot: 'El servicio en {url} no responde. Revise su dirección o intente más tarde.',
  theServiceRefusedStatus: 'El servicio rechazó {what} (estado {status}).',
  theServiceRejectedThisClient:
    'El servicio rechazó este cliente o su clave. Revise ambos en la configuración de la fuente.',
  theServicesAnswerForHas:
    'La respuesta del servicio para {path} no tiene una lista llamada “{list}”. Revise su dirección.',
  theServicesAnswerForIs: 'La respuesta del servicio para {what} no es JSON válido. Revise su dirección.',
  theServicesAnswerForIs2: 'La respuesta del servicio para {what} pasa de {size} MB.',
  theToken: 'el token',
  thisFeedNoLongerExists: 'Esta fuente ya no existe.',
  thisServerAllowsNoFolders:
    'Este servidor no permite carpetas para fuentes. Quien lo administra puede permitirlas en SHEAF_FEED_FOLDERS.',
};
