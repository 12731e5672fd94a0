// The slider along the draw: shows the frame that it is on, in the drawing, the curve and the numbers.
document.addEventListener("alpine:init", () => {
  Alpine.data("alongDraw", () => ({
    show(event) {
      const at = event.target.value;
      for (const frame of this.$root.querySelectorAll("[data-frame]")) {
        frame.toggleAttribute("hidden", frame.dataset.frame !== at);
      }
    },
  }));
});
