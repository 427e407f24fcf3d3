import type { NoticeView } from "#core/offers/notices";

// What stands on a shop's own pages. It goes there alone: nothing of the application comes along, and types are all it takes
// from it. Everything a shopper reads comes from the server, in the shopper's language.

/** The address that the script came from, which is where it asks. Read while the script runs, for it is not known later. */
const origin = (() => {
  const source = (document.currentScript as HTMLScriptElement | null)?.src;
  return source ? new URL(source).origin : "";
})();

const sheet = new CSSStyleSheet();
sheet.replaceSync(`
:host([hidden]), [hidden] { display: none !important }
:host { display: block }
button { font: inherit; color: inherit; background: none; border: 0; padding: 0; min-height: 2.25rem; cursor: pointer; text-decoration: underline; text-underline-offset: .2em }
button[aria-busy=true] { cursor: progress }
:focus-visible { outline: 3px solid; outline-offset: 2px }
dialog { box-sizing: border-box; max-width: min(32rem, calc(100vw - 2rem)); max-height: calc(100vh - 2rem); padding: 1.2rem 1.4rem; border: 2px solid; background: Canvas; color: CanvasText; overflow: auto; overflow-wrap: anywhere }
dialog::backdrop { background: rgb(0 0 0 / .45) }
h2 { margin: 0 0 .8rem; font-size: 1.2em; line-height: 1.25 }
ul { margin: 0 0 .8rem; padding: 0; list-style: none }
li { padding: .5rem 0; border-top: 1px solid; font-variant-numeric: tabular-nums }
p { margin: 0 0 .8rem; font-size: .9em }
form { margin: 0 }
`);

const make = <K extends keyof HTMLElementTagNameMap>(
  name: K,
  text: string,
  into?: Element,
): HTMLElementTagNameMap[K] => {
  const element = document.createElement(name);
  element.textContent = text;
  into?.append(element);
  return element;
};

/** Once the page is read: where this script was there first, an element stands before what is in it. */
const onceRead = (look: () => void): void => {
  if (document.readyState === "loading") document.addEventListener("DOMContentLoaded", look, { once: true });
  else look();
};

/** What paying in parts comes to: the lines that the shop's page was sent with, and all plans behind a press. */
export class NoticeElement extends HTMLElement {
  #view: Promise<NoticeView | null> | null = null;
  #more = make("button", "");
  #dialog: HTMLDialogElement | null = null;

  connectedCallback(): void {
    if (this.shadowRoot) return;
    const root = this.attachShadow({ mode: "open" });
    root.adoptedStyleSheets = [sheet];
    this.#more.type = "button";
    this.#more.ariaHasPopup = "dialog";
    this.#more.onclick = () => void this.#open();
    root.append(document.createElement("slot"), this.#more);
    if (this.#view) return;
    this.#say(this.getAttribute("more") ?? "");
    // A page that was sent without the lines gets them now.
    onceRead(() => {
      if (this.childElementCount === 0) void this.#ask().then((view) => view && this.#fill(view));
    });
  }

  /** Shows what is handed over instead of asking for it. */
  set view(view: NoticeView | null) {
    this.#view = Promise.resolve(view);
    this.#dialog?.remove();
    this.#dialog = null;
    if (view) this.#fill(view);
    else this.replaceChildren();
    this.#say(view?.more ?? "");
  }

  #say(more: string): void {
    this.#more.textContent = more;
    this.#more.hidden = more === "";
  }

  #fill({ lines, more, language, direction }: NoticeView): void {
    this.lang = language;
    this.dir = direction;
    this.replaceChildren(make("span", lines[0]), make("small", lines[1]));
    this.#say(more);
  }

  /** Once; what could not be had is asked for again by the next press. */
  #ask(): Promise<NoticeView | null> {
    const query = new URLSearchParams({
      token: this.getAttribute("token") ?? "",
      offer: this.getAttribute("offer") ?? "",
    });
    this.#view ??= fetch(`${origin}/embed/v1/notice?${query}`, { credentials: "omit" })
      .then((answer) => (answer.ok ? (answer.json() as Promise<NoticeView | null>) : null))
      .catch(() => null)
      .then((view) => {
        if (!view) this.#view = null;
        return view;
      });
    return this.#view;
  }

  async #open(): Promise<void> {
    this.#more.ariaBusy = "true";
    const view = await this.#ask();
    this.#more.ariaBusy = null;
    if (!this.isConnected) return;
    this.#dialog?.remove();
    this.#dialog = this.#draw(view);
    this.shadowRoot?.append(this.#dialog);
    this.#dialog.showModal();
  }

  #draw(view: NoticeView | null): HTMLDialogElement {
    const dialog = document.createElement("dialog");
    const title = make("h2", view?.title ?? this.#more.textContent ?? "", dialog);
    title.id = "title";
    dialog.setAttribute("aria-labelledby", title.id);
    dialog.lang = view?.language ?? this.lang;
    dialog.dir = view?.direction ?? this.dir;
    const list = make("ul", "", dialog);
    // Where nothing more can be had, it says what stands there already.
    for (const one of view?.plans ?? [...this.children].map(({ textContent }) => textContent ?? ""))
      make("li", one, list);
    if (view?.text) make("p", view.text, dialog);
    const form = make("form", "", dialog);
    form.method = "dialog";
    make("button", view?.close ?? "×", form);
    // Whatever else listens for Escape on the page leaves this one alone.
    dialog.onkeydown = (event) => {
      if (event.key === "Escape") event.stopPropagation();
    };
    dialog.onclick = ({ target }) => {
      if (target === dialog) dialog.close();
    };
    return dialog;
  }
}

const heights: Record<string, string> = { small: "40px", usual: "48px", large: "56px" };
const corners: Record<string, string> = { square: "0", soft: "8px", round: "28px" };

/**
 * A button that pays at once. The form that the page was sent with does the same without this script; with it, what cannot be
 * begun is said where the shopper is, and a second press changes nothing.
 */
export class ButtonElement extends HTMLElement {
  #says = make("p", "");
  #press = make("button", "");

  connectedCallback(): void {
    if (this.shadowRoot) return;
    const root = this.attachShadow({ mode: "open" });
    root.adoptedStyleSheets = [sheet];
    const { style } = this.#press;
    const [ground, ink] = [this.getAttribute("ground") ?? "", this.getAttribute("ink") ?? ""];
    this.#press.type = "button";
    const read = () => (this.#press.textContent = this.querySelector("button")?.textContent ?? "");
    read();
    const reading = new MutationObserver(read);
    reading.observe(this, { childList: true, subtree: true, characterData: true });
    onceRead(() => {
      read();
      reading.disconnect();
    });
    Object.assign(style, {
      background: ground,
      color: ink,
      border: `1px solid ${ink}`,
      textDecoration: "none",
    });
    Object.assign(style, { width: "100%", fontWeight: "600", paddingInline: "1rem" });
    style.height = heights[this.getAttribute("size") ?? ""] ?? "48px";
    style.borderRadius = corners[this.getAttribute("shape") ?? ""] ?? "0";
    this.#press.onclick = () => void this.#begin();
    this.#says.role = "alert";
    this.#says.style.margin = "0";
    root.append(this.#press, this.#says);
    // Whoever comes back to a page that was kept finds the button as it was.
    window.addEventListener("pageshow", () => this.#rest());
  }

  #rest(): void {
    this.#press.ariaBusy = null;
  }

  async #begin(): Promise<void> {
    if (this.#press.ariaBusy === "true") return;
    this.#press.ariaBusy = "true";
    this.#says.textContent = "";
    const body = new URLSearchParams({
      token: this.getAttribute("token") ?? "",
      offer: this.getAttribute("offer") ?? "",
    });
    const address = await fetch(`${origin}/embed/v1/press`, {
      ...{ method: "POST", body, credentials: "omit" },
      headers: { accept: "application/json" },
    })
      .then((answer) => (answer.ok ? (answer.json() as Promise<{ address?: string }>) : null))
      .catch(() => null)
      .then((answer) => answer?.address);
    if (address && /^https?:/.test(address)) location.assign(address);
    else {
      this.#rest();
      this.#says.textContent = this.getAttribute("trouble");
    }
  }
}

if (!customElements.get("zahlung-button")) customElements.define("zahlung-button", ButtonElement);
if (!customElements.get("zahlung-notice")) customElements.define("zahlung-notice", NoticeElement);
