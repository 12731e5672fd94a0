// The keypad of a reading: a key replaces the whole number, the fraction or the wording.
document.addEventListener("alpine:init", () => {
  Alpine.data("entry", () => ({
    text: "",
    init() { this.text = this.$refs.text.value; },
    sync() { this.text = this.$refs.text.value; },
    put(text) {
      this.text = text;
      this.$refs.text.value = text;
      this.$refs.text.dispatchEvent(new Event("input", {bubbles: true}));
    },
    whole(event) {
      const rest = this.text.match(/(?:^|\s)(\d+\/\d+[+-]?)$|(\.\d+)$/);
      const tail = rest ? (rest[1] ? " " + rest[1] : rest[2]) : "";
      this.put(event.currentTarget.dataset.value + tail);
    },
    part(event) {
      const value = event.currentTarget.dataset.value;
      const whole = (this.text.match(/^\d+(?![\d/])/) || [""])[0];
      this.put(value.startsWith(".") ? whole + value : (whole && value !== "0" ? `${whole} ${value}` : value));
    },
    replace(event) { this.put(event.currentTarget.dataset.value); },
    ending(event) {
      const bare = this.text.replace(/[+-]$/, "");
      if (bare) this.put(bare + event.currentTarget.dataset.value);
    },
    clear() { this.put(""); },
  }));
});
