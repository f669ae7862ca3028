<script setup lang="ts">
/** Which motor is taken apart? */
import MotorFinder from '@/figures/MotorFinder.vue'

const emit = defineEmits<{ choose: [sample: number] }>()
</script>

<template>
  <section class="sheet">
    <h1>Teardown</h1>
    <p>Choose the sample to take apart.</p>
    <MotorFinder>
      <template #motor="{ motor }">
        {{ motor.full_name }}
        <el-button
          v-for="sample in motor.samples"
          :key="sample.id"
          size="small"
          @click="emit('choose', sample.id)"
          ><span class="visually-hidden">{{ motor.full_name }}</span> {{ sample.mark }}</el-button
        >
        <span v-if="!motor.samples.length" class="soft small">no sample</span>
      </template>
      <template #empty>
        No motor is on the bench yet. <RouterLink to="/intake">Take one in</RouterLink> first.
      </template>
    </MotorFinder>
  </section>
</template>
