<script setup lang="ts">
/** Help for the place that is open: what it is for, its most common jobs, its keys. */
import { t } from '@/words';
import { Drawer } from 'ant-design-vue';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { everywhere, helpAt } from '#core/help/index';

const open = defineModel<boolean>('open', { required: true });
const route = useRoute();
const here = computed(() => helpAt(route.path));
const keys = computed(() => [
  ...(here.value.keys.length > 0 ? [{ title: t('help.keysHere'), keys: here.value.keys }] : []),
  { title: t('help.keysEverywhere'), keys: everywhere },
]);
</script>

<template>
  <Drawer
    v-model:open="open"
    :title="t('help.helpFor', { place: t(here.title) })"
    :width="380"
    :mask="false"
    root-class-name="help"
  >
    <p>{{ t(here.purpose) }}</p>
    <h3 class="mt-12px text-13px c-quiet">{{ t('help.commonJobs') }}</h3>
    <section v-for="[job, how] in here.jobs" :key="job" class="mt-12px">
      <h4>{{ t(job) }}</h4>
      <p class="quiet">{{ t(how) }}</p>
    </section>
    <section v-for="some in keys" :key="some.title" class="mt-12px">
      <h3 class="mt-12px text-13px c-quiet">{{ some.title }}</h3>
      <dl class="grid [grid-template-columns:minmax(90px,max-content)_1fr] gap-y-4px gap-x-12px mt-4px">
        <template v-for="[key, what] in some.keys" :key="key"
          ><dt>
            <kbd>{{ key }}</kbd>
          </dt>
          <dd>{{ t(what) }}</dd></template
        >
      </dl>
    </section>
  </Drawer>
</template>

<style scoped>
h4 {
  margin: 0;
}
</style>
