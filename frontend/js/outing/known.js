// A place that is known brings its degrees, zone and mains.
export default () => ({
  bring({ target: { list, value, form } }) {
    const known = [...list.options].find((option) => option.value === value);
    for (const [name, said] of Object.entries(known?.dataset ?? {}))
      form.elements[name].value = said;
  },
});
