<script setup lang="ts">
/** Who needs a second factor, whose addresses the district's sign-on may link, and what holds a plan for a person. */
import { t } from '@/words';
import Tags from '@/kit/Tags.vue';
import { Button, Form, FormItem, InputNumber, Radio, RadioGroup } from 'ant-design-vue';
import { computed, reactive, ref } from 'vue';
import type { DistrictState } from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';

const props = defineProps<{ state: DistrictState }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const work = useWork();
const { secondFactor, signOnDomains, mostLeaving, mostJoining } = props.state.settings;
const percent = (share: number) => Math.round(share * 100);
const form = reactive({
  secondFactor,
  signOnDomains: [...signOnDomains],
  leaving: percent(mostLeaving),
  joining: percent(mostJoining),
});
const busy = ref(false);
const mayChange = computed(() => session.may('settings.change'));
async function save(): Promise<void> {
  busy.value = true;
  try {
    await call('POST /api/district', {
      body: {
        secondFactor: form.secondFactor,
        signOnDomains: form.signOnDomains.map((domain) => domain.trim().toLowerCase().replace(/^@/, '')),
        mostLeaving: form.leaving / 100,
        mostJoining: form.joining / 100,
      },
    });
    work.say(t('district.securitySettingsSaved'));
    emit('changed');
  } catch (error) {
    work.wrong(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <section>
    <h2>{{ t('district.security') }}</h2>
    <Form layout="vertical" :disabled="!mayChange" @submit.prevent="save">
      <FormItem :label="t('district.secondFactor')">
        <RadioGroup v-model:value="form.secondFactor" :aria-label="t('district.secondFactor')">
          <Radio value="nobody">{{ t('district.yourChoice') }}</Radio>
          <Radio value="coordinators">{{ t('district.requiredForCoordinators') }}</Radio>
        </RadioGroup>
      </FormItem>
      <FormItem
        v-if="state.signOn"
        :label="t('district.eMailDomainsForThe')"
        html-for="sign-on-domains"
        :extra="t('district.signOnDomainsHint')"
      >
        <Tags id="sign-on-domains" v-model:value="form.signOnDomains" :placeholder="t('district.exampleOrg')" />
      </FormItem>
      <div class="row">
        <FormItem
          :label="t('district.holdAPlanIfMore')"
          html-for="most-leaving"
          :extra="t('district.ofASchoolWouldLeave')"
        >
          <InputNumber id="most-leaving" v-model:value="form.leaving" :min="0" :max="100" addon-after="%" />
        </FormItem>
        <FormItem :label="t('district.orMoreThan')" html-for="most-joining" :extra="t('district.wouldJoin')">
          <InputNumber id="most-joining" v-model:value="form.joining" :min="0" :max="1000" addon-after="%" />
        </FormItem>
      </div>
      <Button v-if="mayChange" html-type="submit" :loading="busy">{{ t('district.saveSecuritySettings') }}</Button>
    </Form>
  </section>
</template>
