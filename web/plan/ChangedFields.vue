<script setup lang="ts">
/** What a change sets, with what was there before, as far as a line of a list has room. */
import { shownFields } from '#core/register/words';
import type { Change } from '#core/plan/index';
import { useSession } from '@/stores/session';
import { spoken } from '@/words';
import { valueWords } from './values';

defineProps<{ change: Change }>();
const session = useSession();
const most = 5;
</script>

<template>
  <span
    ><span
      v-for="f in shownFields(change, session.me?.schools ?? []).slice(0, most)"
      :key="f.field"
      class="field mr-12px"
      >{{ spoken(f.field) }}
      <template v-if="change.op !== 'create' && f.hasBefore"
        ><del>{{ valueWords(f.isDay, f.before) }}</del
        ><template v-if="change.op !== 'purge'"> → </template></template
      ><ins v-if="change.op !== 'purge' && f.hasAfter">{{ valueWords(f.isDay, f.after) }}</ins></span
    ></span
  >
</template>

<style scoped>
.field:not(:has(del)) {
  color: var(--quiet);
}
del {
  color: var(--rust);
}
ins {
  color: var(--ink);
  text-decoration: none;
}
del ~ ins {
  font-weight: 650;
}
</style>
