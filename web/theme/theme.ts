/** Day or night: as the person chose it, else as the system has it; and the colors that the page then has. */
import { usePreferredDark } from '@vueuse/core';
import { computed, watchEffect } from 'vue';
import { useSession } from '@/stores/session';

export function useNight() {
  const dark = usePreferredDark();
  const session = useSession();
  return computed(() => {
    const theme = session.preferences.theme;
    return theme === 'system' ? dark.value : theme === 'night';
  });
}

/** Puts what the person chose on the page. */
export function useTheme(): void {
  const session = useSession();
  watchEffect(() => {
    const { theme, density } = session.preferences;
    const { dataset } = document.documentElement;
    if (theme === 'system') delete dataset.theme;
    else dataset.theme = theme;
    dataset.density = density;
  });
}

/** Reads tokens off the page as they are now: colors as the browser resolves them, all else as it is written. */
export function readTokens(): (name: string) => string {
  const probe = document.createElement('i');
  probe.hidden = true;
  document.body.append(probe);
  const root = getComputedStyle(document.documentElement);
  const read = (name: string): string => {
    const raw = root.getPropertyValue(`--${name}`).trim();
    if (!raw.startsWith('light-dark')) return raw;
    probe.style.color = `var(--${name})`;
    return getComputedStyle(probe).color;
  };
  queueMicrotask(() => probe.remove());
  return read;
}
