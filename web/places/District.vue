<script setup lang="ts">
/** How the district is set up: schools, usernames, secrets, staff, the directory. Everything is seen at once and changed where it stands. */
import { t } from '@/words';
import Page from '@/kit/Page.vue';
import DeviceRules from '@/district/DeviceRules.vue';
import Directory from '@/district/Directory.vue';
import Schools from '@/district/Schools.vue';
import SchoolYear from '@/district/SchoolYear.vue';
import Secrets from '@/district/Secrets.vue';
import SecurityRules from '@/district/SecurityRules.vue';
import Staffing from '@/district/Staffing.vue';
import Usernames from '@/district/Usernames.vue';
import { useSession } from '@/stores/session';
import { useLoad } from '@/kit/load';
import Part from '@/kit/Part.vue';

const session = useSession();
const state = useLoad(t('places.settings'), 'GET /api/district');
</script>

<template>
  <Page v-if="state.data.value" :title="t('frame.settings')" :count="state.data.value.name" scrolls>
    <Schools :state="state.data.value" @changed="state.refetch()" />
    <Part fit><SchoolYear /></Part>
    <div class="grid [grid-template-columns:repeat(auto-fit,minmax(460px,1fr))] gap-y-24px gap-x-40px">
      <Usernames :state="state.data.value" @changed="state.refetch()" />
      <Secrets :state="state.data.value" @changed="state.refetch()" />
      <DeviceRules :state="state.data.value" @changed="state.refetch()" />
      <SecurityRules :state="state.data.value" @changed="state.refetch()" />
      <Part fit><Staffing :state="state.data.value" /></Part>
      <Part v-if="session.may('directory')" fit><Directory /></Part>
    </div>
  </Page>
</template>
