<script setup lang="ts">
/** What is open was saved elsewhere in the meantime: whose is kept. */
import { client, take } from '@/api/client'
import type { Figure, Plate } from '@/api/types'
import { useFigure } from '@/stores/figure'
import { usePlate } from '@/stores/plate'
import UiAction from '@/ui/UiAction.vue'

const figure = useFigure()
const plate = usePlate()

async function settle(keepOurs: boolean): Promise<void> {
  const theirs = await take<Figure>(
    client.GET('/api/figures/{figure_id}', { params: { path: { figure_id: figure.id! } } }),
  )
  await figure.settle(keepOurs, theirs)
}

async function keepPlate(): Promise<void> {
  const theirs = await take<Plate>(
    client.GET('/api/plates/{plate_id}', { params: { path: { plate_id: plate.id! } } }),
  )
  await plate.insist(theirs.revision)
}
</script>

<template>
  <div v-if="plate.document && plate.saving === 'outdated'" class="wrong" role="alert">
    This plate was changed in another tab or window.
    <UiAction kind="caution" @click="keepPlate">Keep this version</UiAction>
  </div>
  <div v-else-if="figure.document && figure.saving === 'outdated'" class="wrong" role="alert">
    This figure was changed in another tab or window.
    <UiAction kind="caution" @click="settle(false)">Use the other version</UiAction>
    ·
    <UiAction kind="caution" @click="settle(true)">Keep this version</UiAction>
  </div>
</template>
