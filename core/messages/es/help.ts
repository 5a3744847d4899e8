import type { help as english } from '../en/help';

export const help: Record<keyof typeof english, string> = {
  classesAdd: 'Agregar estudiantes a una clase',
  classesAddHow: 'Abra la clase y elija Agregar personas. Escriba un nombre o pegue una lista de una hoja de cálculo.',
  classesCode: 'Permitir que los estudiantes se unan con un código',
  classesCodeHow:
    'Abra la clase y elija Mostrar código. Quienes no coinciden claramente con un registro esperan en Solicitudes.',
  classesGroup: 'Crear un grupo entre clases',
  classesGroupHow:
    'Reúna a los estudiantes en Personas y elija Grupo. El grupo tiene su propia página en Clases, Grupos.',
  classesPurpose:
    'Clases y grupos, tareas y uso. Cada clase tiene una página con sus estudiantes, docentes, grupos y código.',
  commonJobs: 'Tareas comunes',
  devicesCart: 'Revisar un carrito',
  devicesCartHow: 'Abra Carritos, elija el carrito y escanee lo que contiene. Sheaf dice qué falta.',
  devicesPurpose: 'Cada dispositivo, quién lo tiene, y los carritos con sus reservas.',
  devicesScan: 'Prestar dispositivos con el escáner',
  devicesScanHow:
    'Abra Escanear. Escanee un estudiante y un dispositivo para prestarlo; escanee solo un dispositivo para devolverlo.',
  devicesSwap: 'Cambiar un dispositivo dañado',
  devicesSwapHow: 'En Escanear, elija Cambiar y escanee el dispositivo dañado y el de repuesto.',
  guide: 'Guía',
  guideAbout:
    'Para qué sirve cada lugar de Sheaf y cómo se hacen allí las tareas más comunes. El mismo texto está detrás del botón de ayuda de la aplicación.',
  handoutsClass: 'Imprimir las tarjetas de una clase',
  handoutsClassHow:
    'Elija la clase, revise la vista previa y elija Imprimir. Las tarjetas están en el orden en que se cortan.',
  handoutsLost: 'Imprimir una tarjeta perdida',
  handoutsLostHow: 'Busque al estudiante con la tecla /, abra su registro y elija Imprimir tarjeta.',
  handoutsOutdated: 'Reemplazar tarjetas vencidas',
  handoutsOutdatedHow:
    'Hoy muestra cuántas hay. Active “Solo estudiantes sin tarjeta vigente” para imprimir solo esas.',
  handoutsPurpose: 'Tarjetas de acceso y listas, como se van a imprimir.',
  help: 'Ayuda',
  helpFor: 'Ayuda: {place}',
  importsFile: 'Importar un archivo',
  importsFileHow:
    'Elija Abrir un archivo o suéltelo en la página. Revise los encabezados y la escuela, elija Planear, revise el plan y aplíquelo.',
  importsFix: 'Corregir problemas',
  importsFixHow:
    'Los problemas están marcados en el archivo y agrupados por tipo. Use la corrección propuesta en una fila o en todas, escriba o pegue en las celdas u omita la fila. La forma de leer el archivo se recuerda para el próximo de la misma forma.',
  importsPurpose:
    'Abra la lista que exporta su oficina, revise cómo la lee Sheaf, corrija los problemas y planee los cambios.',
  importsReview: 'Revisar coincidencias',
  importsReviewHow:
    'Cuando Sheaf no está seguro de si una fila es un estudiante registrado, pregunta. Compare los dos y elija La misma o Distinta. Un estudiante que está dos veces en el archivo se importa una sola vez y la segunda fila lo indica; elija Dos personas si son dos.',
  keyBack: 'cerrar, volver a la lista',
  keyClipboard: 'Copiar, cortar y pegar celdas',
  keyEdit: 'editar la celda',
  keyFillDown: 'Rellenar hacia abajo',
  keyFind: 'buscar una persona, una clase, un dispositivo o un plan',
  keyFindReplace: 'Buscar y reemplazar',
  keyFix: 'usar la corrección propuesta',
  keyGather: 'reunir la fila o quitarla de la gavilla',
  keyGatherAll: 'reunir todo lo que muestran los filtros',
  keyGatherTo: 'reunir todo hasta esta fila',
  keyHelp: 'abrir o cerrar esta ayuda',
  keyMatches: 'revisar coincidencias: la misma, distinta, después, deshacer',
  keyMove: 'moverse por la lista',
  keyOpen: 'abrir la fila',
  keyPlaces: 'ir a un lugar',
  keyPrimary: 'lo que dice el botón principal: planear, aplicar, imprimir',
  keyProblem: 'problema siguiente y anterior',
  keyRange: 'Seleccionar un rango',
  keyRemove: 'quitar al estudiante de la clase',
  keyRowColumn: 'Seleccionar la fila, la columna',
  keysEverywhere: 'Teclas en todas partes',
  keysHere: 'Teclas de este lugar',
  keySkip: 'omitir la fila o volver a usarla',
  keyTakeOut: 'sacar el cambio del plan o devolverlo',
  keyUndoRedo: 'Deshacer, rehacer',
  ledgerFind: 'Ver quién cambió un registro',
  ledgerFindHow:
    'Escriba un nombre, un número o parte de un título. El registro de una persona también tiene su historial.',
  ledgerPast: 'Ver una fecha pasada',
  ledgerPastHow: 'Elija En una fecha pasada para ver y exportar las listas de ese día.',
  ledgerPurpose: 'Todo lo que se aplicó: quién, cuándo y a partir de qué.',
  ledgerUndo: 'Deshacer algo',
  ledgerUndoHow:
    'Busque la línea y elija Deshacer. Si algo posterior lo impide, Sheaf lo nombra y ofrece deshacer el resto.',
  licensesPurpose: 'Qué productos tiene, quién necesita una licencia y quién la tiene, durante todo el año.',
  licensesRenew: 'Renovar una licencia',
  licensesRenewHow:
    'Abra el producto y agregue una línea a sus licencias con las fechas nuevas y el número de licencias.',
  licensesRule: 'Decir a quién le corresponde',
  licensesRuleHow:
    'Abra el producto y agregue una regla: un grado, una escuela o una clase. Con ella Sheaf cuenta quién necesita una licencia.',
  licensesShort: 'Asignar licencias cuando faltan',
  licensesShortHow:
    'Abra el producto y elija Asignar licencias. El plan dice quién recibe una licencia, quién la pierde y por qué.',
  peopleGather: 'Hacer algo con muchas personas',
  peopleGatherHow:
    'Filtre la lista y elija Reunir a todos, o presione la barra espaciadora en cada fila. La gavilla de abajo muestra lo que puede hacer: tarjetas, contraseñas, clases, grupos, licencias, dispositivos.',
  peopleNew: 'Agregar estudiantes nuevos',
  peopleNewHow:
    'Elija Estudiantes nuevos y escríbalos o péguelos; bastan el nombre y la clase. Planee, aplique e imprima sus tarjetas.',
  peoplePassword: 'Crear una contraseña nueva',
  peoplePasswordHow: 'Abra al estudiante y elija Contraseña nueva. Allí mismo puede imprimir una tarjeta nueva.',
  peoplePurpose:
    'Todos los estudiantes y el personal. Limite la lista con filtros, reúna a las personas y haga una cosa con todas ellas.',
  plans: 'Planes',
  plansApply: 'Aplicar un plan',
  plansApplyHow:
    'Lea la línea que dice qué va a pasar, revise los tipos de cambio y elija Aplicar. Deshacer queda en el mensaje y en la bitácora.',
  plansHeld: 'Liberar un plan retenido',
  plansHeldHow: 'Lea lo que encontró el control. Si es correcto, escriba el motivo y elija Liberar.',
  plansPurpose: 'Un plan muestra cada cambio antes de hacerlo. Nada cambia hasta que lo aplique.',
  plansTakeOut: 'Sacar a alguien',
  plansTakeOutHow: 'Presione la barra espaciadora en el cambio o use su botón. El resto del plan se aplica.',
  settingsNames: 'Elegir un patrón de nombres de usuario',
  settingsNamesHow:
    'Cambie el patrón y vea de inmediato qué da para todos, con los choques. Lo usan las cuentas nuevas; los nombres existentes no cambian.',
  settingsPurpose:
    'Una página para cada asunto: el año escolar, escuelas, personal, nombres y contraseñas, inicio de sesión, fuentes, el directorio, claves de productos, correo, cartas a casa, dispositivos, conservación.',
  settingsRegister: 'Conectar un registro',
  settingsRegisterHow:
    'En Fuentes, elija Fuente nueva y el servicio de un registro, con su dirección, cliente y secreto. Se revisa de inmediato y luego cada noche a la hora indicada.',
  settingsSchool: 'Agregar una escuela',
  settingsSchoolHow:
    'En Escuelas, elija Escuela nueva, o agregue desde la importación las escuelas que nombra un registro. Se buscan primero por el identificador y luego por el nombre.',
  settingsStaff: 'Invitar al personal',
  settingsStaffHow:
    'Elija Personal nuevo en Personas o vuelva a invitar en Personal y roles. Quien no tiene dirección recibe un enlace para copiar.',
  todayAttention: 'Atender lo pendiente',
  todayAttentionHow: 'Cada línea tiene la acción que la resuelve. La línea desaparece cuando está hecha.',
  todayPurpose:
    'Lo que requiere su atención, primero lo más urgente, y qué tan lista está cada escuela. Los docentes ven sus clases.',
  todayReady: 'Ver qué estudiantes no están listos',
  todayReadyHow: 'Haga clic en un número de la tabla para ver a esos estudiantes; reúnalos y elija Preparar.',
  todayTeacher: 'Abrir su clase',
  todayTeacherHow:
    'Si usted enseña, sus clases están arriba. Un clic abre una clase con sus estudiantes, tarjetas y código.',
  yearArchive: 'Restaurar una clase terminada',
  yearArchiveHow: 'Abra Archivo, busque la clase y elija Restaurar. Sus estudiantes vuelven con ella.',
  yearPurpose:
    'El cambio de año en junio, los grados divididos en clases, las clases terminadas y cuánto se guardan los datos.',
  yearRoll: 'Pasar al año siguiente',
  yearRollHow:
    'Revise adónde va cada grado y quién repite. Planéelo, revise el resumen por escuela y aplíquelo. Se puede deshacer.',
  yearSections: 'Dividir un grado en clases',
  yearSectionsHow: 'Abra Secciones y elija el grado. Mantenga parejas juntas o separadas; Sheaf equilibra las clases.',
};
