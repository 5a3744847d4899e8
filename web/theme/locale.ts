/** What components of the kit say by themselves, in the language of the page. */
import enUS from 'ant-design-vue/es/locale/en_US';
import { locale } from '@/words';

export const antLocale = locale === 'es-US' ? (await import('ant-design-vue/es/locale/es_ES')).default : enUS;
