<script setup lang="ts">
/** The frame of a page: a bar above, what is at hand on the left, the work, and what is said of it. */
</script>

<template>
  <v-app-bar class="ui-frame__bar" :height="44" flat><slot name="bar" /></v-app-bar>
  <v-navigation-drawer class="ui-frame__side" tag="div" permanent :width="232" :border="0">
    <slot name="left" />
  </v-navigation-drawer>
  <v-main class="ui-frame__main"><slot /></v-main>
  <v-navigation-drawer
    v-if="$slots.right"
    class="ui-frame__side"
    tag="div"
    location="right"
    permanent
    :width="304"
    :border="0"
  >
    <slot name="right" />
  </v-navigation-drawer>
</template>
