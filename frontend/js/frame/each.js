// One after another, two at a time as the machine has hands, for as long as `goes` says so.
export async function each(items, look, goes = () => true) {
  const queue = [...items];
  const hand = async () => {
    while (queue.length && goes()) await look(queue.shift());
  };
  await Promise.all([hand(), hand()]);
}
