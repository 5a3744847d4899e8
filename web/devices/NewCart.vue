<script setup lang="ts">
/** A cart that is new at a school. */
import { Button, SelectOption } from 'ant-design-vue';
import { reactive } from 'vue';
import { call } from '@/api';
import Choice from '@/kit/Choice.vue';
import NumberInput from '@/kit/NumberInput.vue';
import TextInput from '@/kit/TextInput.vue';
import { useSession } from '@/stores/session';
import { t } from '@/words';

const emit = defineEmits<{ add: [make: () => Promise<{ planId: string }>, said: string]; cancel: [] }>();
const session = useSession();
const fresh = reactive({ schoolId: session.usualSchool, name: '', slots: 24, room: '' });
function add(): void {
  const body = { ...fresh, room: fresh.room.trim() || null };
  emit('add', () => call('POST /api/carts', { body }), t('devices.isAdded', { name: fresh.name }));
}
</script>

<template>
  <form class="row flex-wrap text-13px pt-8px" @submit.prevent="add" @keydown.esc.stop="emit('cancel')">
    <label
      >{{ t('devices.school2') }}
      <Choice v-model:value="fresh.schoolId" :placeholder="t('devices.chooseASchool')">
        <SelectOption v-for="s in session.me?.schools ?? []" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
      </Choice></label
    >
    <label>{{ t('devices.name') }} <TextInput v-model:value="fresh.name" required maxlength="60" /></label>
    <label
      >{{ t('devices.slots') }} <NumberInput v-model:value="fresh.slots" class="w-60px" :min="1" :max="200"
    /></label>
    <label>{{ t('devices.room') }} <TextInput v-model:value="fresh.room" class="w-60px" maxlength="40" /></label>
    <Button html-type="submit" type="primary" size="small">{{ t('devices.addCart') }}</Button>
  </form>
</template>
