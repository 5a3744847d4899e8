/**
 * What cards and letters home say, in English and beside it in the language of the family. No translation was checked
 * by a native speaker yet, and people who choose one are told so.
 */
export const languages = {
  ar: 'العربية',
  zh: '中文',
  es: 'Español',
  fr: 'Français',
  ht: 'Kreyòl ayisyen',
  ko: '한국어',
  pl: 'Polski',
  pt: 'Português',
  so: 'Soomaali',
  tl: 'Tagalog',
  uk: 'Українська',
  vi: 'Tiếng Việt',
} as const;
export type Language = keyof typeof languages;
/** Those that are read from right to left. */
export const isRtl = (language: Language | 'en' | null): boolean => language === 'ar';

export interface Texts {
  username: string;
  secret: string;
  /** `{grade}` stands for it. */
  grade: string;
  /** Below a card: what to do with the code. */
  scan: string;
  /** `{where}` stands for the address. */
  how: string;
  keep: string;
  lost: string;
  letter: {
    title: string;
    intro: string;
    consent: string;
    /** What a family signs, where the district wrote nothing of its own. */
    agrees: string;
    signs: string;
  };
}
export const english: Texts = {
  username: 'username',
  secret: 'password',
  grade: 'grade {grade}',
  scan: 'Scan the code to sign in.',
  how: 'To sign in, scan the code with the camera, or go to {where} and type the username and the password.',
  keep: 'Keep this card safe, like a key. Don’t show it to anyone.',
  lost: 'Lost it? Tell your teacher and you’ll get a new one.',
  letter: {
    title: 'How your child signs in',
    intro: 'Dear family, this is what your child needs to sign in for school, at home too. Please keep it safe.',
    consent: 'Consent',
    agrees:
      'I agree that my child uses the learning products of the school with this account. I can take this back at any time.',
    signs: 'Name, date and signature',
  },
};
/** The way to sign in; an address keeps its own order in a text that runs from right to left (Unicode, UAX 9: isolates). */
export const howTo = (says: Texts, language: Language | 'en', where: string): string =>
  says.how.replace('{where}', isRtl(language) ? `\u2066${where}\u2069` : where);
export const texts: Record<Language, Texts> = {
  ar: {
    username: 'اسم المستخدم',
    secret: 'كلمة المرور',
    grade: 'الصف {grade}',
    scan: 'امسح الرمز لتسجيل الدخول.',
    how: 'لتسجيل الدخول، امسح الرمز بالكاميرا، أو اذهب إلى {where} واكتب اسم المستخدم وكلمة المرور.',
    keep: 'احفظ هذه البطاقة كالمفتاح، ولا تُرِها لأحد.',
    lost: 'هل فقدتها؟ أخبر معلمك وستحصل على بطاقة جديدة.',
    letter: {
      title: 'كيف يسجّل طفلك الدخول',
      intro: 'عائلتنا الكريمة، هذا ما يحتاجه طفلكم لتسجيل الدخول إلى المدرسة، وفي البيت أيضًا. نرجو حفظه في مكان آمن.',
      consent: 'الموافقة',
      agrees: 'أوافق على أن يستخدم طفلي برامج التعلم الخاصة بالمدرسة بهذا الحساب. يمكنني سحب هذه الموافقة في أي وقت.',
      signs: 'الاسم والتاريخ والتوقيع',
    },
  },
  zh: {
    username: '用户名',
    secret: '密码',
    grade: '{grade} 年级',
    scan: '扫描二维码即可登录。',
    how: '登录方法：用摄像头扫描二维码，或打开 {where}，输入用户名和密码。',
    keep: '请像保管钥匙一样保管这张卡，不要给任何人看。',
    lost: '丢了吗？告诉老师，就会得到一张新卡。',
    letter: {
      title: '您的孩子如何登录',
      intro: '尊敬的家长：这是您的孩子登录学校课程所需的信息，在家也可以使用。请妥善保管。',
      consent: '同意书',
      agrees: '我同意我的孩子使用此账户登录学校的学习产品。我可以随时撤回此同意。',
      signs: '姓名、日期和签名',
    },
  },
  es: {
    username: 'usuario',
    secret: 'clave',
    grade: 'grado {grade}',
    scan: 'Escanea el código para entrar.',
    how: 'Para entrar, escanea el código con la cámara o ve a {where} y escribe el usuario y la clave.',
    keep: 'Guarda esta tarjeta como una llave. No la enseñes a nadie.',
    lost: '¿La perdiste? Díselo a tu maestro: te darán otra.',
    letter: {
      title: 'Cómo entra su hijo o hija',
      intro:
        'Estimada familia: esto es lo que su hijo o hija necesita para entrar, también en casa. Guárdenlo en un lugar seguro.',
      consent: 'Consentimiento',
      agrees:
        'Doy permiso para que mi hijo o hija use los productos de aprendizaje de la escuela con esta cuenta. Puedo retirarlo cuando quiera.',
      signs: 'Nombre, fecha y firma',
    },
  },
  fr: {
    username: 'identifiant',
    secret: 'code secret',
    grade: 'niveau {grade}',
    scan: 'Scanne le code pour te connecter.',
    how: 'Pour te connecter, scanne le code avec la caméra ou va sur {where} et tape l’identifiant et le code secret.',
    keep: 'Garde cette carte comme une clé. Ne la montre à personne.',
    lost: 'Perdue ? Dis-le à ton enseignant : tu en auras une autre.',
    letter: {
      title: 'Comment votre enfant se connecte',
      intro:
        'Chère famille, voici ce qu’il faut à votre enfant pour se connecter, à la maison aussi. Gardez-le en lieu sûr.',
      consent: 'Accord',
      agrees:
        'J’accepte que mon enfant utilise les produits d’apprentissage de l’école avec ce compte. Je peux revenir sur cet accord à tout moment.',
      signs: 'Nom, date et signature',
    },
  },
  ht: {
    username: 'non itilizatè',
    secret: 'modpas',
    grade: 'klas {grade}',
    scan: 'Eskane kòd la pou konekte.',
    how: 'Pou konekte, eskane kòd la ak kamera a, oswa ale sou {where} epi tape non itilizatè a ak modpas la.',
    keep: 'Kenbe kat sa a byen, tankou yon kle. Pa montre pèsonn li.',
    lost: 'Ou pèdi l? Di pwofesè ou: y ap ba ou yon lòt.',
    letter: {
      title: 'Kijan pitit ou konekte',
      intro: 'Chè fanmi, men sa pitit ou bezwen pou l konekte pou lekòl la, lakay tou. Tanpri kenbe l byen.',
      consent: 'Konsantman',
      agrees:
        'Mwen dakò pou pitit mwen sèvi ak pwodui aprantisaj lekòl la ak kont sa a. Mwen ka retire dakò sa a nenpòt lè.',
      signs: 'Non, dat ak siyati',
    },
  },
  ko: {
    username: '사용자 이름',
    secret: '비밀번호',
    grade: '{grade}학년',
    scan: '코드를 스캔하여 로그인하세요.',
    how: '로그인하려면 카메라로 코드를 스캔하거나 {where} 에서 사용자 이름과 비밀번호를 입력하세요.',
    keep: '이 카드를 열쇠처럼 잘 보관하고 아무에게도 보여 주지 마세요.',
    lost: '잃어버렸나요? 선생님께 말씀드리면 새 카드를 받을 수 있어요.',
    letter: {
      title: '자녀의 로그인 방법',
      intro: '학부모님께: 자녀가 학교 수업에 로그인할 때 필요한 정보입니다. 집에서도 쓸 수 있습니다. 잘 보관해 주세요.',
      consent: '동의서',
      agrees: '자녀가 이 계정으로 학교의 학습 제품을 사용하는 것에 동의합니다. 이 동의는 언제든지 철회할 수 있습니다.',
      signs: '이름, 날짜, 서명',
    },
  },
  pl: {
    username: 'login',
    secret: 'hasło',
    grade: 'klasa {grade}',
    scan: 'Zeskanuj kod, aby się zalogować.',
    how: 'Aby się zalogować, zeskanuj kod aparatem albo wejdź na {where} i wpisz login i hasło.',
    keep: 'Pilnuj tej karty jak klucza. Nikomu jej nie pokazuj.',
    lost: 'Zgubiona? Powiedz nauczycielowi: dostaniesz nową.',
    letter: {
      title: 'Jak loguje się Państwa dziecko',
      intro:
        'Szanowni Państwo, tego potrzebuje dziecko, aby zalogować się do szkoły, także w domu. Prosimy o bezpieczne przechowanie.',
      consent: 'Zgoda',
      agrees:
        'Zgadzam się, aby moje dziecko korzystało z produktów edukacyjnych szkoły na tym koncie. Zgodę mogę w każdej chwili wycofać.',
      signs: 'Imię i nazwisko, data i podpis',
    },
  },
  pt: {
    username: 'usuário',
    secret: 'senha',
    grade: 'série {grade}',
    scan: 'Leia o código para entrar.',
    how: 'Para entrar, leia o código com a câmera ou vá a {where} e digite o usuário e a senha.',
    keep: 'Guarde este cartão como uma chave. Não o mostre a ninguém.',
    lost: 'Perdeu? Avise o professor: você recebe outro.',
    letter: {
      title: 'Como seu filho ou sua filha entra',
      intro:
        'Prezada família, isto é o que seu filho ou sua filha precisa para entrar, também em casa. Guardem em lugar seguro.',
      consent: 'Autorização',
      agrees:
        'Autorizo meu filho ou minha filha a usar os produtos de aprendizagem da escola com esta conta. Posso retirar a autorização a qualquer momento.',
      signs: 'Nome, data e assinatura',
    },
  },
  so: {
    username: 'magaca isticmaalaha',
    secret: 'erayga sirta ah',
    grade: 'fasalka {grade}',
    scan: 'Koodhka sawir si aad u gasho.',
    how: 'Si aad u gasho, koodhka ku sawir kaamirada, ama tag {where} oo ku qor magaca isticmaalaha iyo erayga sirta ah.',
    keep: 'Kaadhkan u ilaali sida fure. Cidna ha tusin.',
    lost: 'Ma lumisay? U sheeg macallinkaaga, mid cusub ayaad heli doontaa.',
    letter: {
      title: 'Sida ilmahaagu u galo',
      intro:
        'Qoyska sharafta leh, tani waa waxa ilmahaagu u baahan yahay si uu u galo, guriga xataa. Fadlan si fiican u ilaali.',
      consent: 'Oggolaansho',
      agrees:
        'Waan oggolahay in ilmahaygu isticmaalo alaabta waxbarashada ee dugsiga isagoo adeegsanaya akoonkan. Mar kasta waan ka noqon karaa.',
      signs: 'Magaca, taariikhda iyo saxiixa',
    },
  },
  tl: {
    username: 'username',
    secret: 'password',
    grade: 'baitang {grade}',
    scan: 'I-scan ang code para mag-sign in.',
    how: 'Para mag-sign in, i-scan ang code gamit ang camera, o pumunta sa {where} at i-type ang username at password.',
    keep: 'Ingatan ang card na ito gaya ng susi. Huwag itong ipakita kahit kanino.',
    lost: 'Nawala? Sabihin sa iyong guro at bibigyan ka ng bago.',
    letter: {
      title: 'Paano mag-sign in ang inyong anak',
      intro: 'Mahal na pamilya, ito ang kailangan ng inyong anak para mag-sign in, pati sa bahay. Pakiingatan po ito.',
      consent: 'Pahintulot',
      agrees:
        'Pumapayag ako na gamitin ng aking anak ang mga produkto sa pag-aaral ng paaralan gamit ang account na ito. Maaari ko itong bawiin anumang oras.',
      signs: 'Pangalan, petsa at lagda',
    },
  },
  uk: {
    username: 'логін',
    secret: 'пароль',
    grade: 'клас {grade}',
    scan: 'Відскануй код, щоб увійти.',
    how: 'Щоб увійти, відскануй код камерою або зайди на {where} і введи логін та пароль.',
    keep: 'Бережи цю картку, як ключ. Нікому її не показуй.',
    lost: 'Загубив? Скажи вчителю: отримаєш нову.',
    letter: {
      title: 'Як входить ваша дитина',
      intro:
        'Шановна родино, це потрібно вашій дитині, щоб увійти до шкільних занять, зокрема вдома. Будь ласка, зберігайте це надійно.',
      consent: 'Згода',
      agrees:
        'Я погоджуюся, щоб моя дитина користувалася навчальними продуктами школи з цим обліковим записом. Я можу будь-коли відкликати згоду.',
      signs: 'Ім’я, дата і підпис',
    },
  },
  vi: {
    username: 'tên đăng nhập',
    secret: 'mật khẩu',
    grade: 'lớp {grade}',
    scan: 'Quét mã để đăng nhập.',
    how: 'Để đăng nhập, quét mã bằng máy ảnh, hoặc vào {where} rồi gõ tên đăng nhập và mật khẩu.',
    keep: 'Giữ thẻ này như giữ chìa khóa. Đừng cho ai xem.',
    lost: 'Bị mất? Hãy báo thầy cô, em sẽ có thẻ mới.',
    letter: {
      title: 'Con quý vị đăng nhập như thế nào',
      intro: 'Kính gửi gia đình, đây là những gì con quý vị cần để đăng nhập, kể cả ở nhà. Xin giữ cẩn thận.',
      consent: 'Đồng ý',
      agrees:
        'Tôi đồng ý cho con tôi dùng các sản phẩm học tập của trường bằng tài khoản này. Tôi có thể rút lại bất cứ lúc nào.',
      signs: 'Họ tên, ngày và chữ ký',
    },
  },
};
