// The colour of a picture at a spot of the page: what a person sees there, where the page's own colour lies behind it.
(() => {
  const URL_IN = /^url\((["']?)(.*?)\1\)/;
  const WAITS = 1500; // ms for the picture to come
  const length = (text, whole) =>
    text.endsWith("%") ? (parseFloat(text) / 100) * whole : parseFloat(text);
  // where a picture is drawn in a box: its size there, and how far from the box's corner
  const laid = (picture, box, size, place) => {
    const { naturalWidth: wide, naturalHeight: high } = picture;
    const fit = { contain: Math.min, cover: Math.max }[size];
    let [width, height] = size.split(" ");
    if (fit) {
      const scale = fit(box.width / wide, box.height / high);
      [width, height] = [wide * scale, high * scale];
    } else {
      width = width === "auto" ? null : length(width, box.width);
      height = !height || height === "auto" ? null : length(height, box.height);
      if (width === null && height === null) [width, height] = [wide, high];
      width ??= (wide * height) / high;
      height ??= (high * width) / wide;
    }
    const [left, top] = place
      .split(" ")
      .map((one, axis) =>
        length(one, axis ? box.height - height : box.width - width),
      );
    return { left, top, width, height };
  };
  const FITS = {
    fill: (box) => `${box.width}px ${box.height}px`,
    none: () => "auto",
    "scale-down": () => "contain",
  };
  const loaded = (address) =>
    new Promise((go) => {
      const picture = new Image();
      picture.crossOrigin = "anonymous";
      picture.onload = () => go(picture);
      picture.onerror = () => go(null);
      setTimeout(() => go(null), WAITS);
      picture.src = address;
    });
  const pixel = (picture, x, y) => {
    const canvas = document.createElement("canvas");
    canvas.width = canvas.height = 1;
    const brush = canvas.getContext("2d");
    brush.drawImage(picture, -Math.floor(x), -Math.floor(y));
    return [...brush.getImageData(0, 0, 1, 1).data];
  };
  const within = (at, long) => ((at % long) + long) % long;
  // the picture that an element shows, as it says it: its address, how large, where, and whether it goes on
  const shown = (element, box) => {
    const style = getComputedStyle(element);
    if (element.localName === "img") {
      const fit = style.objectFit;
      return {
        address: element.currentSrc,
        size: FITS[fit]?.(box) ?? fit,
        place: style.objectPosition,
      };
    }
    const address = URL_IN.exec(style.backgroundImage)?.[2];
    const first = (text) => text.split(",")[0].trim();
    return address && first(style.backgroundAttachment) !== "fixed"
      ? {
          address,
          size: first(style.backgroundSize),
          place: first(style.backgroundPosition),
          repeats: first(style.backgroundRepeat) !== "no-repeat",
        }
      : null;
  };
  return async (element, x, y) => {
    for (let one = element; one; one = one.parentElement) {
      const box = one.getBoundingClientRect();
      const found = shown(one, box);
      const picture = found?.address && (await loaded(found.address));
      if (picture) {
        const { left, top, width, height } = laid(
          picture,
          box,
          found.size,
          found.place,
        );
        let at = [x - box.left - left, y - box.top - top];
        if (found.repeats) at = [within(at[0], width), within(at[1], height)];
        if (at[0] >= 0 && at[1] >= 0 && at[0] < width && at[1] < height) {
          const rgba = pixel(
            picture,
            (at[0] * picture.naturalWidth) / width,
            (at[1] * picture.naturalHeight) / height,
          );
          if (rgba[3] > 250) return `rgb(${rgba.slice(0, 3).join(", ")})`;
        }
      }
      const colour = getComputedStyle(one).backgroundColor;
      if (!/^(transparent|rgba\(.*, 0\))$/.test(colour)) return null;
    }
    return null;
  };
})();
