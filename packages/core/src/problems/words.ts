import { DELIVERY_WORDS } from './delivery-words.ts';

/** Every problem Gaveta can name: what it says and how to mend it. `{word}` is filled from the problem's data. */
export const PROBLEM_WORDS = {
  'definition-not-json': { says: 'This is not a report definition: {detail}.', mend: 'Open a file that Gaveta saved.' },
  'definition-malformed': { says: '{detail}.', mend: 'Expected: {expected}.' },
  'definition-too-new': {
    says: 'This definition is of version {version}; this Gaveta reads up to version {known}.',
    mend: 'Update Gaveta to open it.',
  },
  'duplicate-id': {
    says: 'The id “{id}” is used more than once.',
    mend: 'Give each item and drawer an id of its own.',
  },
  'formula-syntax': { says: '{detail}', mend: 'Expected {expected}.' },
  'formula-too-deep': { says: 'The formula is nested too deeply.', mend: 'Split it into calculated fields.' },
  'number-too-long': {
    says: 'The number has more than {digits} digits.',
    mend: 'Write a shorter one.',
  },
  'can-be-text': {
    says: '{where} needs {expected}, and this can be a text, which gives an error.',
    mend: 'Use a number or a blank instead of the text, and show words with a format or a highlight.',
  },
  'count-of-values': {
    says: 'COUNT counts numbers and dates, and this is {given}.',
    mend: 'Use COUNTA, which counts every value.',
  },
  'unknown-name': { says: '“{name}” is not a field, drawer or parameter in reach here.', mend: '{hint}' },
  'unknown-function': { says: 'There is no function {name}.', mend: '{hint}' },
  'hidden-field': {
    says: 'The field “{name}” is not available.',
    mend: 'Ask the developer of the application to show it.',
  },
  'wrong-arguments': {
    says: '{name} takes {expected}, not {given}.',
    mend: 'Change what stands between its brackets.',
  },
  'wrong-type': { says: '{where} needs {expected}, and this is {given}.', mend: 'Convert it, or use another field.' },
  'total-without-rows': {
    says: 'A total has no rows to add up here.',
    mend: 'Move it to a band of a drawer, or to the footer of the report.',
  },
  'order-in-total': {
    says: '{name} depends on the order of the rows, and a total cannot count by that.',
    mend: 'To total the first rows only, or those after them, set “first N” of the drawer or group, and how the others are shown.',
  },
  'total-in-total': { says: 'A total cannot stand inside another total.', mend: 'Use the inner formula alone.' },
  'total-in-query': {
    says: 'This formula decides which rows there are, so it cannot count those rows themselves.',
    mend: 'Use a field, or a total of an inner drawer’s rows.',
  },
  'running-in-cell': {
    says: 'A cell has no rows one after the other, so nothing can run, be numbered or be ranked in its formula.',
    mend: 'Choose “running” or “rank” as what the cell shows.',
  },
  'contents-in-page-band': {
    says: 'A band of the page cannot hold contents: they take as many pages as they need.',
    mend: 'Move them to the report header or to a band of a drawer.',
  },
  'contents-of-nothing': {
    says: 'No text of the report is in its outline, so its contents are empty.',
    mend: 'Choose “Outline” for the texts that are headings.',
  },
  'form-shown-as-text': {
    says: 'Formatted text holds what has no form in a report, and is shown as it is written: {names}.',
    mend: 'Remove it from the text, or write it in another way.',
  },
  'crosstab-without-cells': {
    says: 'The crosstab shows no value yet.',
    mend: 'Drop a field into its cells.',
  },
  'group-twice': {
    says: 'Two groups of this item are called “{name}”.',
    mend: 'Give one of them another name.',
  },
  'too-many-across': {
    says: 'The crosstab would be {count} columns wide; {limit} is the most that it can have.',
    mend: 'Group by something with fewer values, as months instead of days, or keep the first ones.',
  },
  'chart-without-measures': {
    says: 'The chart shows no numbers yet.',
    mend: 'Drop a field onto it.',
  },
  'gauge-without-value': {
    says: 'The gauge shows no number yet.',
    mend: 'Drop a field onto it.',
  },
  'map-without-places': {
    says: 'The map does not know yet what to show where.',
    mend: 'Drop what has a place each onto it, and its shape or its degrees of longitude and latitude.',
  },
  'not-geojson': {
    says: 'The shape of “{name}” is no GeoJSON that can be drawn; {count} of them are left out of the map.',
    mend: 'Use a field with GeoJSON in degrees of longitude and latitude.',
  },
  'no-such-place': {
    says: 'The place of “{name}” is not on the earth; {count} of them are left out of the map.',
    mend: 'Use degrees: a longitude from -180 to 180, a latitude from -90 to 90.',
  },
  'too-many-places': {
    says: 'The axis of the chart has {count} values; more than {limit} cannot be told apart.',
    mend: 'Keep the first ones, or group by something with fewer values, as months instead of days.',
  },
  'too-many-series': {
    says: 'The chart would have {count} series; {limit} is the most that it can have.',
    mend: 'Split it by something with fewer values, or keep the first ones.',
  },
  'too-many-panels': {
    says: 'There would be {count} small charts; {limit} is the most that there can be.',
    mend: 'Use something with fewer values, or keep the first ones.',
  },
  'log-not-positive': {
    says: 'A logarithmic scale has no place for numbers that are not above 0; the chart has {count} of them.',
    mend: 'Use a linear scale.',
  },
  'slices-not-positive': {
    says: 'Numbers below 0 have no slice; {count} of them are left out of the chart.',
    mend: 'Show them as columns or bars.',
  },
  'zones-overlap': {
    says: 'Two zones cover the same values.',
    mend: 'Let each zone begin where the one before it ends.',
  },
  'fold-without-heading': {
    says: '“{name}” can be opened and closed, and has no heading that could have the sign for it.',
    mend: 'Add a header to it.',
  },
  'no-rows-to-group': {
    says: 'There are no rows here that could be grouped.',
    mend: 'Move it to a band of a drawer or of the report, or give it rows of its own.',
  },
  'unknown-scope': {
    says: '“{name}” is not a drawer or group around this place.',
    mend: 'Name one of them, or report for all rows.',
  },
  'rank-without-row': {
    says: 'A rank needs a row that is ranked.',
    mend: 'Move it to the detail band of a drawer.',
  },
  'rank-too-wide': {
    says: 'A rank by this formula can only be taken among the rows of its own drawer.',
    mend: 'Rank by a field or a total that the database can work out, or leave the scope out.',
  },
  'previous-without-row': {
    says: 'There is no row here that another could come before.',
    mend: 'Move it to the detail band of a drawer.',
  },
  'depth-without-tree': {
    says: 'DEPTH() needs a drawer of recursive rows around it.',
    mend: 'Name the relation to itself under tree in the drawer’s rows.',
  },
  'calculated-in-circle': {
    says: 'The calculated field “{name}” refers to itself.',
    mend: 'Remove one of the fields from its formula.',
  },
  'calculated-wrong': {
    says: 'The formula of the calculated field “{name}” is wrong.',
    mend: 'Correct it where the field is defined.',
  },
  'formula-too-long': {
    says: 'With its calculated fields put in, the formula of “{name}” is too long to run.',
    mend: 'Use fewer calculated fields inside one another.',
  },
  'total-fields-apart': {
    says: 'The fields {names} belong to drawers that do not lie inside one another, so they cannot be added up together.',
    mend: 'Use one total for each.',
  },
  'needs-one-row': {
    says: 'The field “{name}” has one value for each {drawer}; here there are many.',
    mend: 'Use a total, as SUM({name}), or move the item to the detail band of {drawer}.',
  },
  'unknown-entity': { says: 'There is no “{name}” in the data models.', mend: '{hint}' },
  'unknown-relation': { says: '“{entity}” has no relation “{name}”.', mend: '{hint}' },
  'unknown-model': {
    says: 'The data “{name}” is not available.',
    mend: 'Choose other data, or have the developer add the data model to the `models` of createGaveta.',
  },
  'unknown-connection': {
    says: 'The connection “{name}” is not configured.',
    mend: 'Add it to the options of createGaveta: connections: { {name}: … }.',
  },
  'connection-failed': {
    says: 'The connection “{name}” cannot be reached: {detail}.',
    mend: 'Check that its database is running.',
  },
  'query-failed': {
    says: 'The query for {drawer} failed: {detail}.',
    mend: 'The other parts of the report are complete.',
  },
  'rows-failed': {
    says: 'These rows could not be read: {detail}.',
    mend: 'Correct the step, or try again.',
  },
  'sketch-too-wide': {
    says: 'More than {most} values would go across.',
    mend: 'Choose a longer period, keep only some of them, or list them with “for each” instead.',
  },
  'unknown-subreport': { says: 'There is no report “{name}”.', mend: 'Choose another one for this subreport.' },
  'shared-rows-differ': {
    says: 'This report shows rows of {wanted}, and is given rows of {given}.',
    mend: 'Choose a relation that leads to {wanted}, or let the report fetch its own rows.',
  },
  'shared-rows-without-row': {
    says: 'There is no row here to share with the nested report.',
    mend: 'Move it to the detail band of a drawer.',
  },
  'subreport-cycle': { says: 'The subreports contain one another in a circle: {path}.', mend: 'Remove one of them.' },
  'subreport-in-page-band': {
    says: 'A page header or page footer cannot hold a subreport: its rows would be needed on every page.',
    mend: 'Move it to the report header or to a band of a drawer.',
  },
  'own-rows-not-here': {
    says: 'This band cannot hold an item with rows of its own: it belongs to a page or a group, not to one row.',
    mend: 'Move it to the report header or to a band of a drawer.',
  },
  'link-not-unique': {
    says: 'The report “{report}” is linked by “{link}”, which several rows may have in common: each of them then shows the rows of all.',
    mend: 'Link it by the field that tells the rows apart, or let it take its rows along a relation.',
  },
  'blank-counts-as-zero': {
    says: 'In some rows “{label}” has no value, and counts as 0 here.',
    mend: 'Say what such rows show, as in IF(ISBLANK(price); ""; quantity * price).',
  },
  'inner-rows-unknown': {
    says: 'Whether the report “{report}” has rows here is not known before it runs, so no row is left out for lack of rows inside.',
    mend: 'Let it take its rows along a relation, or choose its rows by nothing but the parameters that are linked here.',
  },
  'link-from-host': {
    says: 'The parameter “{name}” of the report “{report}” is set by the application alone, so nothing can be linked to it.',
    mend: 'Remove the link.',
  },
  'rows-refused': {
    says: 'The drawer “{drawer}” shows no rows, since it is not known which ones it has. {detail}',
    mend: 'Correct that first.',
  },
  'unknown-link': {
    says: 'The report “{report}” has no parameter “{name}”.',
    mend: 'Remove the link, or choose a parameter it has.',
  },
  'missing-link': {
    says: 'The report “{report}” needs a value for its parameter “{name}”.',
    mend: 'Link it to a field, or give the parameter a default.',
  },
  'missing-parameter': { says: 'The parameter “{label}” has no value.', mend: 'Give a value for {name}.' },
  'wrong-parameter': { says: '“{value}” is not a value for “{label}”.', mend: 'Expected {expected}.' },
  'parameter-from-host': {
    says: 'The parameter “{label}” is set by the application around.',
    mend: 'Leave it out: the host’s server puts its value into the token.',
  },
  'wrong-default': {
    says: 'The formula {name} gives no value: {detail}.',
    mend: 'Correct it where the parameter is defined.',
  },
  'recipe-empty': { says: 'The query “{name}” has no step that takes rows.', mend: 'Let its first step take rows.' },
  'recipe-no-statement': { says: 'The statement has not run yet.', mend: 'Write it and press Run.' },
  'recipe-unknown': { says: 'There is no recipe “{name}”.', mend: '{hint}' },
  'recipe-in-circle': { says: 'The recipe “{name}” takes rows from itself.', mend: 'Remove the step that does.' },
  'recipe-needs-order': {
    says: 'The rows stand in no order at this step, so none comes before another.',
    mend: 'Add “Sort by” before it.',
  },
  'recipe-order-in-formula': {
    says: 'A formula of a recipe sees one row, and totals of all of them, but not the order they stand in.',
    mend: 'Use “Calculate across rows” for a running total, the row before, a rank or a row number.',
  },
  'recipe-total-here': {
    says: 'This formula sees one row, and no totals.',
    mend: 'Calculate the total before, in a step “Add a column”, and use that column.',
  },
  'recipe-list-in-formula': {
    says: 'A formula of a recipe cannot hold a list of all rows.',
    mend: 'Use a total such as SUM, MEDIAN or COUNTDISTINCT.',
  },
  'recipe-not-a-text': { says: '“{name}” is not a text.', mend: 'Choose another field, or change its type before.' },
  'recipe-picture-stays': {
    says: '“{name}” is a picture, which can be turned into nothing else.',
    mend: 'Choose another field.',
  },
  'recipe-gather-differs': {
    says: '“{name}” is {type} and “{other}” is {otherType}, and one column holds values of one type.',
    mend: 'Leave one of them out, or change its type before.',
  },
  'recipe-value-unfit': {
    says: '“{value}” is no value of “{name}”.',
    mend: 'Write a value of that column’s type.',
  },
  'recipe-not-a-number': { says: '“{name}” is not a number.', mend: 'Choose a field of numbers.' },
  'recipe-step-unfinished': {
    says: 'This step is not finished: it needs {part}.',
    mend: 'Choose it, or remove the step.',
  },
  'step-broken': {
    says: 'Step {number} does not work, so there are no rows to show from there on.',
    mend: 'Correct it, switch it off, or remove it.',
  },
  'recipe-take-first': {
    says: 'Only the first step takes rows.',
    mend: 'Move it to the top, or use “Add the rows of” instead.',
  },
  'recipe-field-gone': {
    says: '“{name}” no longer exists at this step.',
    mend: '{hint}',
  },
  'recipe-name-taken': { says: 'There is a column “{name}” already.', mend: 'Give this one another name.' },
  'recipe-relation-gone': { says: 'The rows have no relation “{name}” at this step.', mend: '{hint}' },
  'recipe-needs-pairs': {
    says: 'No fields that must be equal are chosen.',
    mend: 'Choose at least one pair of fields.',
  },
  'recipe-types-differ': {
    says: '“{here}” is {hereType} and “{there}” is {thereType}, so they are never equal.',
    mend: 'Choose two fields of the same type.',
  },
  'recipe-not-a-total': {
    says: '{total} cannot be taken of “{name}”, which is {type}.',
    mend: 'Use COUNT, or another field.',
  },
  'recipe-nothing-to-spread': {
    says: 'No names are chosen to become columns.',
    mend: 'Choose “Find names”, or add them by hand.',
  },
  'recipe-stack-differs': {
    says: '“{name}” is {hereType} here and {thereType} in the rows below.',
    mend: 'Give both the same type, or rename one of them.',
  },
  'recipe-missing-argument': {
    says: '“{name}” needs a value for {argument}.',
    mend: 'Give it a formula or a parameter.',
  },
  'query-name-taken': { says: 'There is a table or query “{name}” already.', mend: 'Give this one another name.' },
  'query-wrong': { says: 'The query “{name}” does not work.', mend: 'Correct its steps on the Data screen.' },
  'unknown-parameter': { says: 'The report has no parameter “{name}”.', mend: '{hint}' },
  'unknown-style': { says: 'There is no style “{name}”.', mend: 'Choose another, or define it.' },
  'style-in-circle': { says: 'The style “{name}” is based on itself.', mend: 'Remove “based on” from one of them.' },
  'unknown-font': { says: 'The font “{name}” is not available; {used} is used instead.', mend: 'Choose another one.' },
  'items-overlap': {
    says: 'This text overlaps another one.',
    mend: 'Move one of them, or show only one at a time.',
  },
  'unused-parameter': {
    says: 'Nothing uses the parameter “{label}”.',
    mend: 'Use it in a filter or formula, or remove it.',
  },
  'drawer-without-bands': { says: 'The drawer “{name}” shows nothing.', mend: 'Add a band to it.' },
  'slow-formula': {
    says: 'A formula in {where} of the drawer “{name}” is slow: no database knows it, so all {rows} rows are read first.',
    mend: 'Use fields and plain functions there, or keep fewer rows with another condition.',
  },
  'drawer-without-rows': {
    says: 'The drawer “{name}” has no rows now.',
    mend: 'Check its filter and the sample values of the parameters, or add the band “when empty”.',
  },
  'text-cut-off': {
    says: 'Text is cut off here: it does not fit its box.',
    mend: 'Make the box larger, or let it grow.',
  },
  'too-many-recipes': {
    says: 'A recipe can take rows from other recipes at most {limit} times, counting those inside them.',
    mend: 'Use fewer of them.',
  },
  'too-many-subreports': {
    says: 'A report holds at most {limit} nested reports, at most {deepest} inside one another; this one is left out.',
    mend: 'Nest fewer, or let one nested report show several kinds of rows.',
  },
  'filter-error': {
    says: 'The filter of the drawer “{drawer}” gives an error for some rows ({error}: {detail}); they are left out, and totals do not count them.',
    mend: 'Change the filter so that it is TRUE or FALSE for every row, as with IFERROR.',
  },
  'text-too-long': {
    says: 'Only the first {limit} characters of this text are shown.',
    mend: 'Show a part of it, as LEFT(text; 1000).',
  },
  'picture-damaged': {
    says: 'The picture is damaged, or neither PNG nor JPEG; a grey frame is shown instead.',
    mend: 'Save it again and use that file.',
  },
  'picture-too-large': {
    says: 'The picture has more than {limit} million pixels; a grey frame is shown instead.',
    mend: 'Make it smaller.',
  },
  'picture-not-there': {
    says: 'The picture of the library is not there for whoever runs the report; a grey frame is shown instead.',
    mend: 'Choose another one, or let those see it who run the report.',
  },
  'barcode-wrong': {
    says: '“{content}” cannot be shown as a barcode of this kind ({code}): {detail}.',
    mend: 'Choose another kind, or change the formula.',
  },
  'unfit-setting': {
    says: '“{given}” does not fit here ({setting}); the setting stays as it is.',
    mend: 'The formula should give {expected}.',
  },
  'outside-page': { says: 'This item lies beyond the edge of the page.', mend: 'Move it inside.' },
  'no-columns-left': {
    says: 'The margins leave no room on the page.',
    mend: 'Make the margins smaller or the paper larger.',
  },
  'too-much-ahead': {
    says: 'These rows take more than {limit} MB, and all of them are needed before the first one is shown.',
    mend: 'Narrow them with a filter or a parameter, or show totals, shares and ranks after the rows.',
  },
  'too-many-rows': { says: 'The run was stopped after {limit} rows.', mend: 'Narrow it with a parameter.' },
  'too-long': { says: 'The run was stopped after {limit} seconds.', mend: 'Narrow it with a parameter.' },
  'too-many-pages': { says: 'The run was stopped after {limit} pages.', mend: 'Narrow it with a parameter.' },
  ...DELIVERY_WORDS,
} satisfies Record<string, { says: string; mend: string }>;
