/** What cards say, in English and beside it in the language of the family. */
export const languages = { es: 'Español', fr: 'Français', pt: 'Português', pl: 'Polski', uk: 'Українська' } as const;
export type Language = keyof typeof languages;

export interface Texts {
  username: string;
  secret: string;
  /** `{where}` stands for the address. */
  how: string;
  keep: string;
  lost: string;
}
export const english: Texts = {
  username: 'username',
  secret: 'password',
  how: 'To sign in, scan the code with the camera, or go to {where} and type the username and the password.',
  keep: 'Keep this card safe, like a key. Don’t show it to anyone.',
  lost: 'Lost it? Tell your teacher and you’ll get a new one.',
};
export const texts: Record<Language, Texts> = {
  es: {
    username: 'usuario',
    secret: 'clave',
    how: 'Para entrar, escanea el código con la cámara o ve a {where} y escribe el usuario y la clave.',
    keep: 'Guarda esta tarjeta como una llave. No la enseñes a nadie.',
    lost: '¿La perdiste? Díselo a tu maestro: te darán otra.',
  },
  fr: {
    username: 'identifiant',
    secret: 'code secret',
    how: 'Pour te connecter, scanne le code avec la caméra ou va sur {where} et tape l’identifiant et le code secret.',
    keep: 'Garde cette carte comme une clé. Ne la montre à personne.',
    lost: 'Perdue ? Dis-le à ton enseignant : tu en auras une autre.',
  },
  pt: {
    username: 'usuário',
    secret: 'senha',
    how: 'Para entrar, leia o código com a câmera ou vá a {where} e digite o usuário e a senha.',
    keep: 'Guarde este cartão como uma chave. Não o mostre a ninguém.',
    lost: 'Perdeu? Avise o professor: você recebe outro.',
  },
  pl: {
    username: 'login',
    secret: 'hasło',
    how: 'Aby się zalogować, zeskanuj kod aparatem albo wejdź na {where} i wpisz login i hasło.',
    keep: 'Pilnuj tej karty jak klucza. Nikomu jej nie pokazuj.',
    lost: 'Zgubiona? Powiedz nauczycielowi: dostaniesz nową.',
  },
  uk: {
    username: 'логін',
    secret: 'пароль',
    how: 'Щоб увійти, відскануй код камерою або зайди на {where} і введи логін та пароль.',
    keep: 'Бережи цю картку, як ключ. Нікому її не показуй.',
    lost: 'Загубив? Скажи вчителю: отримаєш нову.',
  },
};
