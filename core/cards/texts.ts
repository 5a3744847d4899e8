/**
 * What cards say, in English and beside it in the language of the family. No translation was checked by a native speaker
 * yet, and people who choose one are told so.
 */
export const languages = {
  es: 'Español',
  fr: 'Français',
  ht: 'Kreyòl ayisyen',
  pl: 'Polski',
  pt: 'Português',
  so: 'Soomaali',
  tl: 'Tagalog',
  uk: 'Українська',
  vi: 'Tiếng Việt',
} as const;
export type Language = keyof typeof languages;

export interface Texts {
  username: string;
  secret: string;
  /** `{grade}` stands for it. */
  grade: string;
  /** `{where}` stands for the address. */
  how: string;
  keep: string;
  lost: string;
}
export const english: Texts = {
  username: 'username',
  secret: 'password',
  grade: 'grade {grade}',
  how: 'To sign in, scan the code with the camera, or go to {where} and type the username and the password.',
  keep: 'Keep this card safe, like a key. Don’t show it to anyone.',
  lost: 'Lost it? Tell your teacher and you’ll get a new one.',
};
export const texts: Record<Language, Texts> = {
  es: {
    username: 'usuario',
    secret: 'clave',
    grade: 'grado {grade}',
    how: 'Para entrar, escanea el código con la cámara o ve a {where} y escribe el usuario y la clave.',
    keep: 'Guarda esta tarjeta como una llave. No la enseñes a nadie.',
    lost: '¿La perdiste? Díselo a tu maestro: te darán otra.',
  },
  fr: {
    username: 'identifiant',
    secret: 'code secret',
    grade: 'niveau {grade}',
    how: 'Pour te connecter, scanne le code avec la caméra ou va sur {where} et tape l’identifiant et le code secret.',
    keep: 'Garde cette carte comme une clé. Ne la montre à personne.',
    lost: 'Perdue ? Dis-le à ton enseignant : tu en auras une autre.',
  },
  pt: {
    username: 'usuário',
    secret: 'senha',
    grade: 'série {grade}',
    how: 'Para entrar, leia o código com a câmera ou vá a {where} e digite o usuário e a senha.',
    keep: 'Guarde este cartão como uma chave. Não o mostre a ninguém.',
    lost: 'Perdeu? Avise o professor: você recebe outro.',
  },
  pl: {
    username: 'login',
    secret: 'hasło',
    grade: 'klasa {grade}',
    how: 'Aby się zalogować, zeskanuj kod aparatem albo wejdź na {where} i wpisz login i hasło.',
    keep: 'Pilnuj tej karty jak klucza. Nikomu jej nie pokazuj.',
    lost: 'Zgubiona? Powiedz nauczycielowi: dostaniesz nową.',
  },
  uk: {
    username: 'логін',
    secret: 'пароль',
    grade: 'клас {grade}',
    how: 'Щоб увійти, відскануй код камерою або зайди на {where} і введи логін та пароль.',
    keep: 'Бережи цю картку, як ключ. Нікому її не показуй.',
    lost: 'Загубив? Скажи вчителю: отримаєш нову.',
  },
  ht: {
    username: 'non itilizatè',
    secret: 'modpas',
    grade: 'klas {grade}',
    how: 'Pou konekte, eskane kòd la ak kamera a, oswa ale sou {where} epi tape non itilizatè a ak modpas la.',
    keep: 'Kenbe kat sa a byen, tankou yon kle. Pa montre pèsonn li.',
    lost: 'Ou pèdi l? Di pwofesè ou: y ap ba ou yon lòt.',
  },
  so: {
    username: 'magaca isticmaalaha',
    secret: 'erayga sirta ah',
    grade: 'fasalka {grade}',
    how: 'Si aad u gasho, koodhka ku sawir kaamirada, ama tag {where} oo ku qor magaca isticmaalaha iyo erayga sirta ah.',
    keep: 'Kaadhkan u ilaali sida fure. Cidna ha tusin.',
    lost: 'Ma lumisay? U sheeg macallinkaaga, mid cusub ayaad heli doontaa.',
  },
  tl: {
    username: 'username',
    secret: 'password',
    grade: 'baitang {grade}',
    how: 'Para mag-sign in, i-scan ang code gamit ang camera, o pumunta sa {where} at i-type ang username at password.',
    keep: 'Ingatan ang card na ito gaya ng susi. Huwag itong ipakita kahit kanino.',
    lost: 'Nawala? Sabihin sa iyong guro at bibigyan ka ng bago.',
  },
  vi: {
    username: 'tên đăng nhập',
    secret: 'mật khẩu',
    grade: 'lớp {grade}',
    how: 'Để đăng nhập, quét mã bằng máy ảnh, hoặc vào {where} rồi gõ tên đăng nhập và mật khẩu.',
    keep: 'Giữ thẻ này như giữ chìa khóa. Đừng cho ai xem.',
    lost: 'Bị mất? Hãy báo thầy cô, em sẽ có thẻ mới.',
  },
};
