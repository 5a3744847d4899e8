<script setup lang="ts">
/** The classes that a grade is split into: their names and sizes, what is in each, and what is balanced. */
import { t } from '@/words';
import Figures from '@/kit/Figures.vue';
import NumberInput from '@/kit/NumberInput.vue';
import TextInput from '@/kit/TextInput.vue';
import { Button, Checkbox } from 'ant-design-vue';
import { names, type Sections } from './sections';

const props = defineProps<{ sections: Sections }>();
const { children, unknown, split, sizes, table, changed, toggle, addClass, dropClass } = props.sections;
</script>

<template>
  <h2>{{ t('year.classes') }}</h2>
  <div
    class="justify-self-stretch overflow-x-auto"
    tabindex="0"
    role="region"
    :aria-label="t('year.classesAndWhatIsIn')"
  >
    <Figures
      :rows="split.classes"
      :row-key="(_, room) => room"
      :columns="[
        { key: 'key', title: t('year.key') },
        { key: 'name', title: t('year.name') },
        { key: 'most', title: t('year.atMost') },
        {
          key: 'students',
          title: t('year.students2'),
          number: true,
          cellClass: (c, room) => ({ rust: c.most !== null && sizes[room]! > c.most }),
        },
        ...table.map(({ name }, i) => ({ key: `fact-${i}`, title: name, number: true })),
        { key: 'act', title: t('year.drop'), untitled: true },
      ]"
    >
      <template #key="{ index: room }"
        ><span class="quiet">{{ room < 9 ? room + 1 : '' }}</span></template
      >
      <template #name="{ row: c, index: room }">
        <TextInput
          v-model:value="c.name"
          class="cell"
          maxlength="120"
          :aria-label="t('year.nameOfClass', { room: room + 1 })"
          @change="changed"
        />
      </template>
      <template #most="{ row: c }">
        <NumberInput
          class="cell most"
          lazy
          :min="1"
          :max="500"
          :value="c.most"
          :aria-label="t('year.mostIn', { name: c.name })"
          @update:value="(most: number | '' | null) => ((c.most = most || null), changed())"
        />
      </template>
      <template #students="{ index: room }">{{ sizes[room] }}</template>
      <template v-for="(fact, i) in table" :key="fact.name" #[`fact-${i}`]="{ index: room }">{{
        fact.counts[room]
      }}</template>
      <template #act="{ row: c, index: room }">
        <Button
          v-if="split.classes.length > 1"
          size="small"
          :aria-label="t('year.remove', { name: c.name })"
          @click="dropClass(room)"
        >
          {{ t('year.remove2') }}
        </Button>
      </template>
    </Figures>
  </div>
  <Button size="small" @click="addClass">{{ t('year.addAClass') }}</Button>
  <h2>{{ t('year.balancedBy') }}</h2>
  <div class="row">
    <Checkbox
      v-for="(label, attribute) in names"
      :key="attribute"
      :checked="split.balance.includes(attribute)"
      class="row"
      @change="toggle(attribute)"
    >
      {{ label }}
    </Checkbox>
  </div>
  <p v-for="{ attribute, n } in unknown.filter((one) => one.n > 0)" :key="attribute" class="quiet">
    {{ t(n === children.length ? 'year.unknownOfAll' : 'year.unknownOf', { what: names[attribute], n }) }}
  </p>
</template>

<style scoped>
.cell.most {
  width: 64px;
}
</style>
