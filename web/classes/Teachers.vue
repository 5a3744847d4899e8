<script setup lang="ts">
/** Who teaches one class. */
import { Button } from 'ant-design-vue';
import type { ClassPage } from '../../server/contract';

defineProps<{ staff: ClassPage['staff'] }>();
defineEmits<{ remove: [personId: string] }>();
</script>

<template>
  <section>
    <h2>Teachers</h2>
    <ul>
      <li v-for="one in staff" :key="one.personId" class="row">
        <span class="grow clip">{{ one.name }}</span>
        <Button
          v-if="staff.length > 1"
          type="text"
          size="small"
          :aria-label="`Remove ${one.name} from the teachers`"
          @click="$emit('remove', one.personId)"
          >Remove</Button
        >
      </li>
    </ul>
    <p v-if="staff.length === 0" class="rust">This class has no teacher. Add one with “Add people”.</p>
  </section>
</template>
