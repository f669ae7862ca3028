<script setup lang="ts">
/** What a motor is tested with, and how far each of it can be trusted. */
import { useRouteQuery } from '@/app/useRouteQuery'
import AdapterLook from './AdapterLook.vue'
import EscLook from './EscLook.vue'
import IncidentLook from './IncidentLook.vue'
import PropellerLook from './PropellerLook.vue'
import StandLook from './StandLook.vue'
import SupplyLook from './SupplyLook.vue'

const look = useRouteQuery('look', 'stands')
</script>

<template>
  <h1>Rig</h1>
  <el-tabs v-model="look" aria-label="What the rig is made of">
    <el-tab-pane name="stands" label="Stands" lazy><StandLook /></el-tab-pane>
    <el-tab-pane name="supplies" label="Supplies and packs" lazy><SupplyLook /></el-tab-pane>
    <el-tab-pane name="escs" label="ESCs" lazy><EscLook /></el-tab-pane>
    <el-tab-pane name="propellers" label="Propellers" lazy><PropellerLook /></el-tab-pane>
    <el-tab-pane name="adapters" label="Adapters" lazy><AdapterLook /></el-tab-pane>
    <el-tab-pane name="incidents" label="Incidents" lazy><IncidentLook /></el-tab-pane>
  </el-tabs>
</template>
