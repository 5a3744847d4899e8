/** The district's time zone and its day, as the server says them. */
import { computed, shallowRef } from 'vue';

const place = shallowRef({ zone: 'UTC', today: '1970-01-01' });
export const keepPlace = (zone: string, today: string): void => void (place.value = { zone, today });
export const zone = computed(() => place.value.zone);
export const today = computed(() => place.value.today);
