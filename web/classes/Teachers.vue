<script setup lang="ts">
/** Who teaches one class. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import type { ClassPage } from '../../server/contract';

defineProps<{ staff: ClassPage['staff'] }>();
defineEmits<{ remove: [personId: string] }>();
</script>

<template>
  <section>
    <h2>{{ t('common.teachers') }}</h2>
    <ul>
      <li v-for="one in staff" :key="one.personId" class="row">
        <span class="grow clip">{{ one.name }}</span>
        <Button
          v-if="staff.length > 1"
          type="text"
          size="small"
          :aria-label="t('classes.removeFromTheTeachers', { name: one.name })"
          @click="$emit('remove', one.personId)"
          >{{ t('common.remove') }}</Button
        >
      </li>
    </ul>
    <p v-if="staff.length === 0" class="rust">{{ t('classes.thisClassHasNoTeacher') }}</p>
  </section>
</template>
