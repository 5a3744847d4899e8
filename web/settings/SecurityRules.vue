<script setup lang="ts">
/** Who needs a second factor, and what holds a plan for a person. */
import { t } from '@/words';
import { Button, Form, FormItem, InputNumber, Radio, RadioGroup } from 'ant-design-vue';
import { computed, reactive } from 'vue';
import type { DistrictState } from '../../server/contract';
import { useSession } from '@/stores/session';
import { useKeep } from './keep';

const props = defineProps<{ state: DistrictState }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const { secondFactor, mostLeaving, mostJoining } = props.state.settings;
const percent = (share: number) => Math.round(share * 100);
const form = reactive({
  secondFactor,
  leaving: percent(mostLeaving),
  joining: percent(mostJoining),
});
const mayChange = computed(() => session.may('settings.change'));
const { keep, busy } = useKeep(() => emit('changed'));
const save = () =>
  keep(
    { secondFactor: form.secondFactor, mostLeaving: form.leaving / 100, mostJoining: form.joining / 100 },
    t('district.securitySettingsSaved'),
  );
</script>

<template>
  <section>
    <h1>{{ t('district.security') }}</h1>
    <Form layout="vertical" :disabled="!mayChange" @submit.prevent="save">
      <FormItem :label="t('district.secondFactor')">
        <RadioGroup v-model:value="form.secondFactor" :aria-label="t('district.secondFactor')">
          <Radio value="nobody">{{ t('district.yourChoice') }}</Radio>
          <Radio value="coordinators">{{ t('district.requiredForCoordinators') }}</Radio>
        </RadioGroup>
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
