<script setup lang="ts">
/** What the blocks of a day stand for. */
</script>

<template>
  <p class="legend quiet">
    <span class="key coat" />coat <span class="key wipe" />wipe off <span class="key lay" />lay
    <span class="key lift" />lift <span class="key act" />act <span class="key look" />look
    <span class="key hot" />hot <span class="key small" />prepare, abrade, weigh
  </p>
</template>

<style scoped>
.legend {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 6px;
  font-size: 13px;
}
.key {
  width: 14px;
  height: 14px;
  margin-left: 10px;
  border: 1px solid #1d2321;
}
.key:first-child {
  margin-left: 0;
}
.key.coat {
  background: #0b6e63;
}
.key.wipe {
  background: #f0c36a;
}
.key.lay {
  background: #ffffff;
}
.key.lift {
  background: #1d2321;
}
.key.act {
  background: #a8cfe0;
}
.key.look {
  background: #d2cce4;
}
.key.hot {
  background: repeating-linear-gradient(45deg, #b4472b 0 4px, #f7f8f5 4px 5px);
}
.key.small {
  background: #b9c2bb;
}
html.dark .key {
  border-color: #eceeea;
}
</style>
