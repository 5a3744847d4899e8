<script setup lang="ts">
/** One device, beside the list: its fields edited in place, given and taken back by hand, and everyone who had it. */
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, ref } from 'vue';
import { call } from '@/api';
import PersonPicker from '@/people/PersonPicker.vue';
import { useWork } from '@/stores/work';
import { conditions } from '#core/entities/index';
import { useAgain, useLoad } from '@/kit/load';

const props = defineProps<{ id: string }>();
const emit = defineEmits<{ close: [] }>();
const work = useWork();
const reload = useAgain();
const sheet = useLoad('the device', 'GET /api/devices/:id', () => ({ id: props.id }));
const device = computed(() => sheet.data.value?.device);
const fields = [
  ['tag', 'tag'],
  ['serial', 'serial number'],
  ['model', 'model'],
  ['boughtOn', 'bought'],
  ['warrantyEnds', 'warranty until'],
  ['updatesEnd', 'updates until'],
  ['room', 'room'],
] as const;
type Field = (typeof fields)[number][0] | 'condition' | 'cartId' | 'slot';
const carts = useLoad('carts', 'GET /api/carts', () => ({ query: { school: device.value?.schoolId } }), {
  enabled: () => device.value !== undefined,
});

async function run(what: () => Promise<{ planId: string }>, said: string): Promise<void> {
  try {
    const { planId } = await what();
    work.say(said, { label: 'Undo', run: () => work.undo(planId) });
  } catch (error) {
    work.wrong(error);
  }
  await reload();
}
async function edit(field: Field, input: { value: string }): Promise<void> {
  const before = device.value![field];
  const typed = input.value.trim() || null;
  const after = field === 'slot' && typed !== null ? Number(typed) : typed;
  if (after === before) return;
  await run(
    () => call('POST /api/devices/:id/edit', { id: props.id, body: { field, before, after } }),
    field === 'cartId'
      ? `${device.value!.tag} is ${after === null ? 'in no cart' : 'in the cart'} now.`
      : `${field} is now ${after ?? 'empty'}.`,
  );
}
const to = ref<string | null>(null);
const due = ref('');
const giving = ref(false);
async function give(): Promise<void> {
  const body = { personId: to.value!, kind: due.value ? ('loan' as const) : ('own' as const), due: due.value || null };
  await run(() => call('POST /api/devices/:id/lend', { id: props.id, body }), `${device.value!.tag} is given.`);
  giving.value = false;
}
const back = () =>
  run(
    () => call('POST /api/devices/:id/back', { id: props.id }),
    `${device.value!.tag} is back from ${device.value!.holder}.`,
  );
</script>

<template>
  <aside v-if="device" class="record beside" aria-label="Device" @keydown.esc="emit('close')">
    <header class="row">
      <div class="grow">
        <h1 class="mono">{{ device.tag }}</h1>
        <p class="quiet">{{ device.model }} · {{ device.school }}</p>
      </div>
      <Button type="text" size="small" aria-label="Esc, close the device" @click="emit('close')">Esc</Button>
    </header>
    <section>
      <p v-if="device.holder">
        with <b>{{ device.holder }}</b><span v-if="device.due" :class="device.late ? 'rust' : 'quiet'">
          · due {{ device.due }}</span
        >
      </p>
      <p v-else class="quiet">with nobody</p>
      <Button v-if="device.holder" size="small" @click="back">Take it back</Button>
      <form v-else-if="giving" class="give" @submit.prevent="give" @keydown.esc.stop="giving = false">
        <label>to <PersonPicker v-model="to" /></label>
        <label>until <TextInput v-model:value="due" placeholder="for good, or yyyy-mm-dd" /></label>
        <Button html-type="submit" type="primary" size="small" :disabled="to === null">Give it</Button>
      </form>
      <Button v-else size="small" @click="giving = true">Give it to somebody</Button>
    </section>
    <dl>
      <template v-for="[field, label] in fields" :key="field">
        <dt>
          <label :for="`d-${field}`">{{ label }}</label>
        </dt>
        <dd>
          <input
            :id="`d-${field}`"
            :value="device[field] ?? ''"
            placeholder="—"
            @change="edit(field, $event.target as HTMLInputElement)"
            @keydown.enter="($event.target as HTMLInputElement).blur()"
          />
        </dd>
      </template>
      <dt><label for="d-condition">condition</label></dt>
      <dd>
        <Choice id="d-condition" :value="device.condition" @update:value="(value) => edit('condition', { value })">
          <SelectOption v-for="c in conditions" :key="c" :value="c">{{ c }}</SelectOption>
        </Choice>
      </dd>
      <dt><label for="d-cart">cart</label></dt>
      <dd>
        <Choice id="d-cart" :value="device.cartId ?? ''" @update:value="(value) => edit('cartId', { value })">
          <SelectOption value="">none</SelectOption>
          <SelectOption v-for="c in carts.data.value?.carts" :key="c.id" :value="c.id">{{ c.name }}</SelectOption>
        </Choice>
      </dd>
      <template v-if="device.cartId">
        <dt><label for="d-slot">slot</label></dt>
        <dd>
          <input
            id="d-slot"
            type="number"
            min="1"
            :value="device.slot ?? ''"
            placeholder="—"
            @change="edit('slot', $event.target as HTMLInputElement)"
            @keydown.enter="($event.target as HTMLInputElement).blur()"
          />
        </dd>
      </template>
    </dl>
    <section>
      <h2>Who had it</h2>
      <ul>
        <li v-for="l in sheet.data.value?.loans" :key="l.id">
          {{ l.holder }} <span class="quiet">{{ l.begins }} to {{ l.ends ?? 'now' }}</span>
        </li>
      </ul>
      <p v-if="sheet.data.value?.loans.length === 0" class="quiet">nobody yet</p>
    </section>
  </aside>
</template>

<style scoped>
.record {
  width: 300px;
}
.give {
  display: grid;
  gap: 6px;
  font-size: 13px;
}
</style>
