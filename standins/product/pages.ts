/** The pages of a made-up product, as plain as can be: what a child works on, and that it was told. */
import { html } from 'hono/html';

const words = (slug: string): string => {
  const text = slug.replaceAll('-', ' ').trim();
  return text.charAt(0).toUpperCase() + text.slice(1);
};

const page = (title: string, body: unknown) =>
  html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width" />
        <link rel="icon" href="data:," />
        <title>${title}</title>
        <style>
          body {
            font: 20px/1.5 sans-serif;
            max-width: 32em;
            margin: 3em auto;
            padding: 0 1em;
          }
          label {
            display: block;
            margin: 1em 0;
          }
          input,
          button {
            font: inherit;
            padding: 0.3em 0.6em;
          }
        </style>
      </head>
      <body>
        ${body}
      </body>
    </html>`;

export const materialPage = (of: { product: string; material: string }, who: string, back: string) =>
  page(
    words(of.material),
    html`<p>${words(of.product)}</p>
      <h1>${words(of.material)}</h1>
      <p>This page stands in for the product. Say how it went, and it reports that you are done.</p>
      <form method="post">
        <label>Your username <input name="who" required maxlength="60" value="${who}" autocomplete="off" /></label>
        <label>Minutes <input name="minutes" type="number" min="1" max="600" value="15" required /></label>
        <label>Points of 100 <input name="points" type="number" min="0" max="100" value="80" required /></label>
        <label>Words missed, between commas <input name="missed" maxlength="500" autocomplete="off" /></label>
        <button>I’m done</button>
      </form>
      <p><a href="${back}">Back to my assignments</a></p>`,
  );

export const donePage = (material: string, error: string | null, back: string) =>
  page(
    words(material),
    html`<h1>${error === null ? 'Done' : 'Not reported'}</h1>
      <p>${error === null ? `${words(material)} was reported as done.` : error}</p>
      <p><a href="${back}">Back to my assignments</a></p>`,
  );
