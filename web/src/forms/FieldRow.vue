<script setup lang="ts">
/** A field of a form: its label with the unit above, what is wrong with it below. */
withDefaults(
  defineProps<{
    label: string
    unit?: string
    problem?: string
    /** The id of the control that the label belongs to. */
    for?: string
    /** How much room it takes among its neighbours. */
    width?: 'narrow' | 'usual' | 'wide'
  }>(),
  { unit: '', problem: '', for: undefined, width: 'usual' },
)
</script>

<template>
  <el-form-item
    class="field-row"
    :class="width"
    label-position="top"
    :for="$props.for"
    :validate-status="problem ? 'error' : ''"
  >
    <template #label>
      {{ label }}<span v-if="unit" class="soft">{{ ` (${unit})` }}</span>
    </template>
    <slot />
    <p v-if="problem" :id="`${$props.for}-fault`" class="fault" role="alert">{{ problem }}</p>
  </el-form-item>
</template>

<style scoped>
.field-row {
  flex: 1 1 130px;
  min-width: 0;
  margin: 0;
}
.field-row.narrow {
  flex: 0 1 108px;
}
.field-row.wide {
  flex: 2 1 220px;
}
.field-row :deep(.el-form-item__label) {
  margin: 0 0 3px;
  padding: 0;
  line-height: 1.3;
  height: auto;
  font-size: 13px;
  color: var(--field-label, var(--ink));
}
.fault {
  flex-basis: 100%;
  margin: 3px 0 0;
  font-size: 12.5px;
  line-height: 1.35;
  font-weight: 700;
  color: var(--fault, var(--stop));
}
</style>
