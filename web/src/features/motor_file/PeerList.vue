<script setup lang="ts">
/** Motors near in size, mass, kV and price: the mass as weighed once it is, the rest as claimed. */
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'

defineProps<{ peers: Schemas['Peer'][] }>()
const WORDS: Record<string, string> = {
  stator_volume_mm3: 'stator volume',
  mass_g: 'mass',
  kv_rpm_per_v: 'kV label',
  price: 'price',
}
</script>

<template>
  <p v-if="!peers.length" class="soft">
    No motor on the bench is near: within a quarter in volume, a fifth in mass, 15 % in kV.
  </p>
  <table v-else class="grid">
    <thead>
      <tr>
        <th>Motor</th>
        <th class="num">Stator</th>
        <th class="num">kV label</th>
        <th class="num">Mass</th>
        <th>Near in</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="peer in peers" :key="peer.motor">
        <td>
          <MotorMark :motor="peer.motor" />
          <RouterLink :to="`/motors/${peer.motor}`">{{ peer.full_name }}</RouterLink>
        </td>
        <td class="num"><Figure :value="peer.traits.stator_volume_mm3" unit="mm³" /></td>
        <td class="num"><Figure :value="peer.traits.kv_rpm_per_v" unit="rpm/V" /></td>
        <td class="num" :class="{ claim: !peer.mass_weighed }">
          <Figure :value="peer.traits.mass_g" unit="g" reason="neither weighed nor claimed" />
          <div v-if="peer.traits.mass_g" class="soft small">
            {{ peer.mass_weighed ? 'weighed' : 'claimed' }}
          </div>
        </td>
        <td class="soft small">{{ peer.compared.map((key) => WORDS[key] ?? key).join(', ') }}</td>
      </tr>
    </tbody>
  </table>
</template>
