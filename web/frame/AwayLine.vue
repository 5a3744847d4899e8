<script setup lang="ts">
/** Stands at the top while the database is away; what is shown below is from before. */
import { Alert } from 'ant-design-vue';
import { isAway } from '@/away';
</script>

<template>
  <div v-if="isAway" role="status">
    <Alert
      banner
      type="warning"
      message="Sheaf cannot reach its database. What you see is from before; pages go on by themselves when it is back."
    />
  </div>
</template>
