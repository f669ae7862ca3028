<script setup lang="ts">
/** Is the parcel what it says? A new motor, or one that is on the bench. */
import { useInHand } from '@/app/useInHand'
import { useSession } from '@/app/useSession'
import MotorFinder from '@/figures/MotorFinder.vue'
import NewMotorForm from './NewMotorForm.vue'

const { mayWrite } = useSession()
const inHand = useInHand()
</script>

<template>
  <h1>Intake</h1>
  <div class="columns">
    <NewMotorForm v-if="mayWrite" />
    <section class="sheet">
      <h2>On the bench</h2>
      <p class="soft"><RouterLink to="/doubles">Is something here twice?</RouterLink></p>
      <MotorFinder>
        <template #motor="{ motor }">
          <RouterLink :to="`/intake/${motor.id}`" @click="inHand = motor.id">{{
            motor.full_name
          }}</RouterLink>
          <span class="soft small">
            {{ motor.samples.map((sample) => sample.mark).join(' ') }} ·
            {{ motor.claim_count }} claims
          </span>
        </template>
      </MotorFinder>
    </section>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 16px;
  margin-top: 14px;
  align-items: start;
}
.small {
  margin-left: 8px;
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
