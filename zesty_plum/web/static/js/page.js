// What the server tells every page: addresses by name, screens, and keys with what they do.
export const page = JSON.parse(document.getElementById("page-data").textContent);
export const { urls } = page;
