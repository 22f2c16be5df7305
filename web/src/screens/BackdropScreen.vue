<script setup lang="ts">
import { ElMessageBox, ElOption, ElRadioButton, ElRadioGroup, ElSelect } from "element-plus";
import { computed, onBeforeUnmount, ref, watch } from "vue";
import { onBeforeRouteLeave, RouterLink } from "vue-router";
import type { Schemas } from "@/api/client";
import { useBackdrop } from "@/composables/useBackdrop";
import { useBackdropPlace } from "@/composables/useBackdropPlace";
import { useHelpForBackdrop } from "@/composables/useHelpForBackdrop";
import { useLayers } from "@/composables/useLayers";
import { useOtherPlaces } from "@/composables/useOtherPlaces";
import { usePaints } from "@/composables/usePaints";
import { kindOf } from "@/logic/backdrop";
import { count, sizeText } from "@/logic/words";
import BackdropTold from "@/parts/backdrop/BackdropTold.vue";
import KeepBar from "@/parts/backdrop/KeepBar.vue";
import LayerEditor from "@/parts/backdrop/LayerEditor.vue";
import LayerList from "@/parts/backdrop/LayerList.vue";
import PhoneChoice from "@/parts/backdrop/PhoneChoice.vue";
import PictureColours from "@/parts/backdrop/PictureColours.vue";
import PictureShelf from "@/parts/backdrop/PictureShelf.vue";
import PlateEditor from "@/parts/backdrop/PlateEditor.vue";
import ShareSlider from "@/parts/backdrop/ShareSlider.vue";
import CloseUpPage from "@/parts/closeup/CloseUpPage.vue";
import { useView, WIDTHS } from "@/stores/view";

/** What lies behind the site, a page or a section: its layers, the page on them, where text is hard to read. */
const view = useView();
const where = useBackdropPlace();
const { place, name, path, page, pages, start, sections } = where;
const width = computed(() => WIDTHS[view.width].width);
const back = useBackdrop(place, path, width);
const { all, layers, phone, panels, plate, tried, hardOnBase, trouble, busy, isChanged } = back;
const help = useHelpForBackdrop(back, where);
const { chosen, least, said, hard, left } = help;
const { colourOf, nameOf, paintOf, lookOf } = usePaints(all);
const showsWorst = ref(true);
const { hasBase, at, colours, add, change, put, choosePicture, baseFromEdge, send, take } = useLayers(
  back,
  help,
  place,
  paintOf,
);

// asked for where fixing everything could not help: the least veil, over what lies there
watch(all, async (known, before) => {
  if (known && !before && where.asked("veil") === "least" && !layers.value.length) await help.findLeast();
});

const selectorOf = (text: Schemas["TextOnIt"]) => text.path.split("::")[0]!.replaceAll(">", " > ");
const marks = computed(() => {
  const [first, ...others] = showsWorst.value ? hard.value : [];
  return {
    chosen: first ? selectorOf(first) : null,
    reach: others.length ? others.map(selectorOf).join(", ") : null,
    label: first ? `${first.ratio?.toFixed(1) ?? "?"} needs ${first.required}` : "",
  };
});
const phoneSource = computed(() => {
  const file = layers.value.find((layer) => layer.picture && !layer.off)?.picture?.file;
  return all.value?.pictures.find((found) => found.path === file)?.address;
});
/** Lets what lies behind show through the boxes on it. */
function setPanels(share: number): void {
  panels.value = share;
  back.change(layers.value, false);
}

const also = useOtherPlaces(back, where, said);
const { above, goesOn, wornLabel, isWithCoat } = also;
async function clear(): Promise<void> {
  plate.value = null;
  put([]);
  await back.keep();
}
onBeforeRouteLeave(async () => {
  if (!isChanged.value) return true;
  try {
    await ElMessageBox.confirm("This backdrop is not kept yet.", "Keep it?", {
      confirmButtonText: "Keep it",
      cancelButtonText: "Discard it",
      distinguishCancelAndClose: true,
      appendTo: "#dialogs",
    });
    return await back.keep();
  } catch (way) {
    return way === "cancel";
  }
});
onBeforeUnmount(back.leave);
</script>

<template>
  <div class="BackdropScreen">
    <main class="stage" tabindex="-1">
      <h1 class="unseen">Backdrop of {{ name }}</h1>
      <div class="tools">
        <router-link :to="{ name: 'sections' }">All sections</router-link>
        <el-select v-model="path" size="small" aria-label="Page" append-to="#dialogs">
          <el-option v-for="found in pages" :key="found.path" :value="found.path" :label="found.name" />
        </el-select>
        <el-radio-group v-model="view.width" size="small" aria-label="Screen width">
          <el-radio-button v-for="(found, key) in WIDTHS" :key="key" :value="key">{{ found.label }}</el-radio-button>
        </el-radio-group>
        <el-radio-group v-model="showsWorst" size="small" aria-label="Marks">
          <el-radio-button :value="true">Show the worst spots</el-radio-button>
          <el-radio-button :value="false">Plain</el-radio-button>
        </el-radio-group>
      </div>
      <close-up-page v-if="page" :page="page" :width="width" :marks="marks" :start="start" />
      <backdrop-told
        :tried="tried"
        :layers="layers"
        :trouble="trouble"
        :busy="busy"
        :hard-on-base="hardOnBase"
        :budget="all?.budget ?? 300_000"
        :panels="panels"
        :left="left.length"
        :is-place="!!place"
        @base="back.readableBase"
        @veil="help.findLeast"
        @focus="back.bestFocus"
        @stops="help.changeStops"
        @panels="back.firmPanels"
        @plate="help.layPlate"
        @turn="help.turnText"
        @change="help.changeText"
      />
      <picture-shelf
        v-if="all"
        :all="all"
        :shown="at?.picture?.file ?? ''"
        @choose="choosePicture"
        @take="take"
        @send="send"
      />
    </main>
    <aside class="side" :aria-label="`Backdrop of ${name}`">
      <h2>Backdrop of {{ name }}</h2>
      <p class="soft">
        {{
          layers.length
            ? `${count(layers.length, "layer")}${tried && tried.bytes >= 1000 ? `, ${sizeText(tried.bytes)}` : ""}`
            : "You have laid nothing behind it yet."
        }}
      </p>
      <template v-if="layers.length">
        <h3>From the front to the back</h3>
        <layer-list
          v-model:chosen="chosen"
          :model-value="layers"
          :look-of="lookOf"
          :name-of="nameOf"
          @update:model-value="put"
        />
      </template>
      <p v-if="all" class="adds">
        <span>Add</span>
        <button v-if="!hasBase" type="button" class="act" @click="add('colour')">base colour</button>
        <button type="button" class="act" @click="add('gradient')">gradient</button>
        <button type="button" class="act" @click="add('pattern')">pattern</button>
        <button type="button" class="act" @click="add('glow')">glow</button>
        <button type="button" class="act" @click="add('veil')">veil</button>
        <button v-if="!plate" type="button" class="act" @click="help.layPlate">
          plate behind what is hard to read
        </button>
        <button v-if="!layers.length && place" type="button" class="act" @click="put([{ colour: 'transparent' }])">
          let what lies behind show
        </button>
      </p>
      <layer-editor
        v-if="at && all"
        :key="`${chosen} ${kindOf(at)}`"
        :layer="at"
        :all="all"
        :colour-of="colourOf"
        :least="least"
        :inks="tried?.inks ?? []"
        :bare="tried?.bare ?? []"
        @edge="baseFromEdge"
        @change="change"
        @focus="back.bestFocus"
      />
      <plate-editor
        v-model="plate"
        :colour-of="colourOf"
        @update:model-value="back.change(layers, false)"
        @done="back.read"
      />
      <template v-if="layers.length && (tried?.panels || panels < 1)">
        <h3>Boxes on it</h3>
        <share-slider
          label="How solid"
          :model-value="panels"
          @update:model-value="setPanels"
          @done="back.change(layers)"
        />
      </template>
      <picture-colours v-if="colours && at?.picture" :colours="colours.colours" :file="at.picture.file" />
      <phone-choice
        v-if="layers.some((layer) => layer.picture)"
        v-model="phone"
        :source="phoneSource"
        @change="back.change(layers, $event)"
      />
      <keep-bar
        :is-changed="isChanged"
        :is-busy="!!busy"
        :is-empty="!layers.length && !plate"
        :has-layers="layers.length > 0"
        :coat="wornLabel"
        :is-with-coat="isWithCoat"
        :sections="sections"
        :above="above?.label ?? ''"
        :goes-on="goesOn"
        :said="said"
        @keep="back.keep()"
        @keep-with-coat="also.keepWithCoat"
        @load="back.load"
        @clear="clear"
        @copy="also.copyTo"
        @go-on="also.goOnAbove"
      />
    </aside>
  </div>
</template>

<style scoped src="./backdrop.css"></style>
