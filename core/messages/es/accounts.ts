import type { accounts as english } from '../en/accounts';

export const accounts: Record<keyof typeof english, string> = {
  aCardFrom: 'una tarjeta, desde {address}',
  aLetterCountMustBe: 'El número de letras debe ser al menos 1.',
  anApp: 'una aplicación',
  aPartMustBeOne:
    "Cada parte debe ser '{'given'}', '{'middle'}', '{'family'}' o '{'number'}', o llevar un número de letras, como '{'given:1'}'.",
  aPasskey: 'una llave de acceso: {name}',
  betweenThePartsUseLowercase: 'Entre las partes, use minúsculas, dígitos, puntos, guiones o guiones bajos.',
  byALink: 'con un enlace',
  chooseAPasswordWithAt: 'Elija una contraseña de al menos 8 caracteres. Unas cuantas palabras funcionan bien.',
  chooseAPasswordWithAt2: 'Elija una contraseña de 256 caracteres como máximo.',
  couldntConfirmThePasskeyTry: 'No se pudo confirmar la llave de acceso. Intente otra vez.',
  from: 'desde {address}',
  noMailServerIsSet:
    'No hay servidor de correo, así que no se puede enviar un enlace. Pida una contraseña nueva a su coordinador.',
  noMailServerIsSet2: 'No hay servidor de correo. Pida a quien administra el servidor que use ./run admin.',
  singleSignOnIsNot: 'El inicio de sesión único no está configurado.',
  someOfThesePeopleOr:
    'Algunas de estas personas o clases no son suyas. Pregunte al coordinador de su escuela o al distrito.',
  thatCodeIsWrongCodes:
    'El código no es correcto. Los códigos cambian cada 30 segundos. Escriba el que se muestra ahora.',
  thatCodeIsWrongEnter: 'El código no es correcto. Escriba el que la aplicación muestra ahora.',
  thatIsNotYourPassword: 'Esa no es su contraseña.',
  thatTookTooLongStart: 'Tardó demasiado. Empiece otra vez.',
  theDistrictsSignOnIs: 'El inicio de sesión del distrito no responde. Entre con su usuario y contraseña.',
  thePatternNeedsOr: "El patrón necesita '{'given'}', '{'family'}' o '{'number'}'.",
  thereIsNoEmailAddress: 'No hay correo electrónico en el registro. Agregue uno primero.',
  theUsernameAndPasswordDont:
    'El usuario y la contraseña no coinciden. Revíselos e intente otra vez. En la contraseña de un estudiante no importan las mayúsculas.',
  thisCardIsOutOf: 'Esta tarjeta ya no es válida. Pide otra a tu maestro o entra con tu usuario y contraseña.',
  thisLinkNoLongerWorks: 'Este enlace ya no funciona. Pida otro.',
  thisPasskeyIsNotRegistered: 'Esta llave de acceso no está registrada aquí. Entre con su usuario y contraseña.',
  thisPasswordIsOneOf: 'Esta contraseña es de las primeras que cualquiera probaría. Elija otra.',
  thisPersonHasAHigher:
    'Esta persona tiene una función superior a la suya o también trabaja en una escuela que no es suya. Pregunte al distrito.',
  thisSecondFactorWasNot: 'No se encontró este segundo factor.',
  tooManyAttemptsWaitA:
    'Demasiados intentos. Espera un rato o entra con tu tarjeta. Un coordinador puede darte otra contraseña o tarjeta.',
  tooManyAttemptsWaitMinutes: 'Demasiados intentos. Espere 15 minutos.',
  tooManyRequestsWaitAn: 'Demasiadas solicitudes. Espere una hora o pregunte a su coordinador.',
  tooManyWrongCodesWait: 'Demasiados códigos incorrectos. Espere 15 minutos.',
  youAlreadyHaveAnApp: 'Ya tiene una aplicación configurada. Quítela primero.',
  youDontHaveAPassword: 'No tiene contraseña aquí. Para confirmar que es usted, cierre la sesión y vuelva a entrar.',
  yourDistrictRequiresASecond:
    'Su distrito exige un segundo factor a los coordinadores. Agregue otro antes de quitar este.',
};
