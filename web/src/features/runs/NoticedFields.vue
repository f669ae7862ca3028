<script setup lang="ts">
/** What was noticed that is no figure: sound, vibration, smell. */
import ChoiceField from '@/forms/ChoiceField.vue'
import NumberField from '@/forms/NumberField.vue'
import { words } from '@/words/words'

defineProps<{ problems?: Record<string, string> }>()
/** Key → what was typed or chosen; what is not there was not noticed. */
const noticed = defineModel<Record<string, string>>({ required: true })
const NOT_SAID = { key: '', label: 'not said' }
function put(key: string, value: string | null) {
  const others = Object.entries(noticed.value).filter(([name]) => name !== key)
  noticed.value = Object.fromEntries(value ? [...others, [key, value]] : others)
}
</script>

<template>
  <div class="noticed">
    <template v-for="one in words().noticed" :key="one.key">
      <ChoiceField
        v-if="one.choices.length"
        :model-value="noticed[one.key] ?? ''"
        :label="one.label"
        :choices="[NOT_SAID, ...one.choices]"
        :problem="problems?.[one.key]"
        @update:model-value="put(one.key, $event)"
      />
      <NumberField
        v-else
        :model-value="noticed[one.key] ?? ''"
        :label="one.label"
        :unit="one.unit"
        :within="[one.low, one.high]"
        :problem="problems?.[one.key]"
        @update:model-value="put(one.key, $event)"
      />
    </template>
  </div>
</template>

<style scoped>
.noticed {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: flex-end;
}
</style>
