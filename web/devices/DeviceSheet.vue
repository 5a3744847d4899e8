<script setup lang="ts">
/** One device, beside the list: its fields edited in place, given and taken back by hand, and everyone who had it. */
import { t } from '@/words';
import { useChange } from '@/kit/change';
import NumberInput from '@/kit/NumberInput.vue';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import DayInput from '@/kit/DayInput.vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, ref } from 'vue';
import { call } from '@/api';
import PersonPicker from '@/people/PersonPicker.vue';
import { dayWords } from '@/time';
import { conditions } from '#core/entities/index';
import { useAgain, useLoad } from '@/kit/load';

const props = defineProps<{ id: string }>();
const emit = defineEmits<{ close: [] }>();
const sheet = useLoad(t('devices.theDevice'), 'GET /api/devices/:id', () => ({ id: props.id }));
const device = computed(() => sheet.data.value?.device);
const fields = [
  ['tag', t('devices.tag2')],
  ['serial', t('devices.serialNumber')],
  ['model', t('devices.model2')],
  ['boughtOn', t('devices.bought')],
  ['warrantyEnds', t('devices.warrantyUntil')],
  ['updatesEnd', t('devices.updatesUntil2')],
  ['room', t('devices.room')],
] as const;
type Field = (typeof fields)[number][0] | 'condition' | 'cartId' | 'slot';
const carts = useLoad(t('devices.carts2'), 'GET /api/carts', () => ({ query: { school: device.value?.schoolId } }), {
  enabled: () => device.value !== undefined,
});

const run = useChange(useAgain());
async function edit(field: Field, text: string): Promise<void> {
  const before = device.value![field];
  const typed = text || null;
  const after = field === 'slot' && typed !== null ? Number(typed) : typed;
  if (after === before) return;
  await run(
    () => call('POST /api/devices/:id/edit', { id: props.id, body: { field, before, after } }),
    field === 'cartId'
      ? t('devices.isNow', {
          tag: device.value!.tag,
          cart: after === null ? t('devices.notInACart') : t('devices.inTheCart'),
        })
      : t('devices.isNow2', { field, empty: after ?? t('devices.empty') }),
  );
}
const to = ref<string | null>(null);
const due = ref('');
const giving = ref(false);
async function give(): Promise<void> {
  const body = { personId: to.value!, kind: due.value ? ('loan' as const) : ('own' as const), due: due.value || null };
  await run(
    () => call('POST /api/devices/:id/lend', { id: props.id, body }),
    t('devices.isAssigned', { tag: device.value!.tag }),
  );
  giving.value = false;
}
const back = () =>
  run(
    () => call('POST /api/devices/:id/back', { id: props.id }),
    t('devices.wasReturnedBy', { tag: device.value!.tag, holder: device.value!.holder }),
  );
</script>

<template>
  <section v-if="device" class="record beside w-300px" :aria-label="t('devices.device')" @keydown.esc="emit('close')">
    <header class="row">
      <div class="grow">
        <h2 class="mono title">{{ device.tag }}</h2>
        <p class="quiet">{{ device.model }} · {{ device.school }}</p>
      </div>
      <Button type="text" size="small" :aria-label="t('devices.closeTheDevice')" @click="emit('close')">{{
        t('devices.esc')
      }}</Button>
    </header>
    <section>
      <p v-if="device.holder">
        {{ t('devices.with2') }} <b>{{ device.holder }}</b><span
          v-if="device.due"
          :class="device.late ? 'rust' : 'quiet'"
        >
          {{ t('devices.dueBack', { due: dayWords(device.due) }) }}</span
        >
      </p>
      <p v-else class="quiet">{{ t('devices.noHolder') }}</p>
      <Button v-if="device.holder" size="small" @click="back">{{ t('devices.returnIt') }}</Button>
      <form v-else-if="giving" class="grid gap-6px text-13px" @submit.prevent="give" @keydown.esc.stop="giving = false">
        <label>{{ t('devices.to') }} <PersonPicker v-model="to" /></label>
        <label>{{ t('devices.until') }} <DayInput v-model:value="due" allow-clear /></label>
        <Button html-type="submit" type="primary" size="small" :disabled="to === null">{{
          t('devices.assign')
        }}</Button>
      </form>
      <Button v-else size="small" @click="giving = true">{{ t('devices.assignToAPerson') }}</Button>
    </section>
    <dl>
      <template v-for="[field, label] in fields" :key="field">
        <dt>
          <label :for="`d-${field}`">{{ label }}</label>
        </dt>
        <dd>
          <TextInput
            :id="`d-${field}`"
            lazy
            :value="device[field]"
            placeholder="—"
            @update:value="(text) => edit(field, text ?? '')"
          />
        </dd>
      </template>
      <dt>
        <label for="d-condition">{{ t('devices.condition2') }}</label>
      </dt>
      <dd>
        <Choice id="d-condition" :value="device.condition" @update:value="(value) => edit('condition', value)">
          <SelectOption v-for="c in conditions" :key="c" :value="c">{{
            t('devices.conditionWord', { condition: c })
          }}</SelectOption>
        </Choice>
      </dd>
      <dt>
        <label for="d-cart">{{ t('devices.cart2') }}</label>
      </dt>
      <dd>
        <Choice id="d-cart" :value="device.cartId ?? ''" @update:value="(value) => edit('cartId', value)">
          <SelectOption value="">{{ t('common.none') }}</SelectOption>
          <SelectOption v-for="c in carts.data.value?.carts" :key="c.id" :value="c.id">{{ c.name }}</SelectOption>
        </Choice>
      </dd>
      <template v-if="device.cartId">
        <dt>
          <label for="d-slot">{{ t('devices.slot') }}</label>
        </dt>
        <dd>
          <NumberInput
            id="d-slot"
            lazy
            :min="1"
            :value="device.slot"
            placeholder="—"
            @update:value="(slot) => edit('slot', String(slot ?? ''))"
          />
        </dd>
      </template>
    </dl>
    <section>
      <h2>{{ t('devices.previousHolders') }}</h2>
      <ul>
        <li v-for="l in sheet.data.value?.loans" :key="l.id">
          {{ l.holder }}
          <span class="quiet">{{ t('devices.to2', { begins: l.begins, now: l.ends ?? t('devices.now') }) }}</span>
        </li>
      </ul>
      <p v-if="sheet.data.value?.loans.length === 0" class="quiet">{{ t('devices.noOneYet') }}</p>
    </section>
  </section>
</template>
