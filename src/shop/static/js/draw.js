// The slider along the draw: shows the frame it stands on, in the drawing, the curve and the numbers.
document.addEventListener("alpine:init", () => {
  Alpine.data("atdraw", () => ({
    show(event) {
      const at = event.target.value;
      for (const frame of this.$root.querySelectorAll("[data-frame]")) {
        frame.toggleAttribute("hidden", frame.dataset.frame !== at);
      }
    },
  }));
});
