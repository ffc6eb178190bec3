interface OfficePage {
  gaveta: string;
  person: string;
  people: Record<string, { label: string; rights: readonly string[] }>;
  report: string;
  screen: 'viewer' | 'designer';
}

const REPORTS: Record<string, string> = { 'season-ledger': 'Season ledger', 'warden-roster': 'Warden roster' };

const escapeHtml = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** The office's one page, in a look of its own: dark slate and a serif face. */
export const officePage = ({ gaveta, person, people, report, screen }: OfficePage): string => {
  const link = (change: Record<string, string>): string =>
    `/?${new URLSearchParams({ as: person, report, screen, ...change })}`;
  const reports = Object.entries(REPORTS)
    .map(
      ([id, name]) =>
        `<a href="${escapeHtml(link({ report: id, screen: 'viewer' }))}"${id === report ? ' aria-current="page"' : ''}>${name}</a>`,
    )
    .join('');
  const persons = Object.entries(people)
    .map(([id, p]) => `<option value="${id}"${id === person ? ' selected' : ''}>${escapeHtml(p.label)}</option>`)
    .join('');
  const mayDesign = people[person]?.rights.includes('design') ?? false;
  const switchTo = screen === 'viewer' ? 'designer' : 'viewer';
  const toggle = mayDesign
    ? `<a class="button" id="switch" href="${escapeHtml(link({ screen: switchTo }))}">${switchTo === 'designer' ? 'Edit this report' : 'Show this report'}</a>`
    : '';
  return `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Cumeeira office</title>
<link rel="icon" href="data:,">
<style>
  * { box-sizing: border-box }
  html, body { height: 100%; margin: 0 }
  body { display: grid; grid-template-rows: 52px 1fr 28px; font: 15px/1.4 Georgia, "DejaVu Serif", serif; background: #26323d; color: #e9eef2 }
  header { display: flex; align-items: center; gap: 22px; padding: 0 20px }
  header b { font-size: 19px; letter-spacing: .04em }
  a { color: #9fd0ff; text-decoration: none }
  a[aria-current] { color: #fff; border-bottom: 2px solid #e0a458 }
  .button { border: 1px solid #9fd0ff; padding: 4px 12px }
  header span { flex: 1 }
  select { font: inherit; background: #314252; color: inherit; border: 1px solid #52687b; padding: 3px }
  main { background: #fff; min-height: 0 }
  main > * { height: 100% }
  footer { padding: 4px 20px; font-size: 13px; color: #b9c7d3 }
</style>
<header>
  <b>Cumeeira office</b>${reports}<span></span>${toggle}
  <select aria-label="Signed in as" onchange="location='/?as='+this.value+'&amp;report=${encodeURIComponent(report)}'">${persons}</select>
</header>
<main><gaveta-${screen} report="${escapeHtml(report)}" token-url="/token?as=${escapeHtml(person)}"></gaveta-${screen}></main>
<footer id="said" role="status">Nothing happened yet.</footer>
<script type="module" src="${gaveta}/embed.js"></script>
<script>
  const said = document.getElementById('said');
  addEventListener('saved', (e) => { said.textContent = 'Saved as revision ' + e.detail.revision; });
  addEventListener('page-count', (e) => { said.textContent = 'The report has ' + e.detail.pages + ' pages'; });
  document.querySelector('main').firstElementChild.addEventListener('error', (e) => { said.textContent = 'Gaveta says: ' + e.detail.detail; });
</script>
</html>`;
};
