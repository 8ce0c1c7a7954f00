// Spring Security wants the token of the page with whatever changes anything.
const csrf = document.querySelector("meta[name=csrf]");
customElements.whenDefined("vacancy-deletion").then((deletion) => {
  deletion.headers = () => ({ [csrf.dataset.header]: csrf.content });
});

// What went, or came back, is shown by the page itself.
for (const event of ["settled", "restored"]) {
  document.addEventListener(event, () => location.reload());
}
