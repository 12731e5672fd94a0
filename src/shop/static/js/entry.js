// The keypad of a reading: a key replaces the whole number, the fraction or the wording.
document.addEventListener("alpine:init", () => {
  Alpine.data("entry", () => ({
    text: "",
    field: null,
    init() { this.use(this.$refs.text); },
    use(field) { this.field = field; this.text = field.value; },
    used(event) { if (event.target.matches("input[type=text]")) this.use(event.target); },
    sync(event) { this.use(event.target); },
    then(event) {
      const next = document.getElementById(event.target.dataset.then);
      if (!next || next.value) return;
      event.preventDefault();
      next.focus();
    },
    put(text) {
      this.text = text;
      this.field.value = text;
      this.field.dispatchEvent(new Event("input", {bubbles: true}));
    },
    whole(event) {
      const rest = this.text.match(/(?:^|\s)(\d+\/\d+[+-]?)$|(\.\d+)$/);
      const tail = rest ? (rest[1] ? " " + rest[1] : rest[2]) : "";
      this.put(event.currentTarget.dataset.value + tail);
    },
    part(event) {
      const value = event.currentTarget.dataset.value;
      if (!value.includes("/") && !value.startsWith(".")) { this.put(value); return; }
      const whole = (this.text.match(/^\d+(?![\d/])/) || [""])[0];
      this.put(value.startsWith(".") ? whole + value : (whole ? `${whole} ${value}` : value));
    },
    replace(event) { this.put(event.currentTarget.dataset.value); },
    ending(event) {
      const bare = this.text.replace(/[+-]$/, "");
      if (bare) this.put(bare + event.currentTarget.dataset.value);
    },
    clear() { this.put(""); },
  }));
});
