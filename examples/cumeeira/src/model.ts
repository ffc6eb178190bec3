import { type Claims, defineModel, type RowScope } from '@gaveta/server';
import { CHARGES, METHODS, STATUSES, TIERS } from './words.ts';

// What these give keeps its exact type, so that the compiler knows the model’s fields and where its relations lead.
const text = (label: string) => ({ label, type: 'text' }) as const;
const date = (label: string) => ({ label, type: 'date', format: 'd mmm yyyy' }) as const;
const number = (label: string, format?: string) => ({ label, type: 'number', ...(format ? { format } : {}) }) as const;
const money = (label: string) => number(label, '#,##0.00');
const key = { label: 'Id', type: 'number', hidden: true } as const;

const one = <const To extends string>(label: string, to: To, here: string) =>
  ({ label, to, kind: 'one', on: { [here]: 'id' } }) as const;
const many = <const To extends string>(label: string, to: To, there: string) =>
  ({ label, to, kind: 'many', on: { id: there } }) as const;

/** The office sees everything; a warden the rows of their own region. */
const inRegion =
  (field: string) =>
  (claims: Claims): RowScope =>
    claims.role === 'office' ? 'everything' : { keep: `${field} = CLAIM("region")` };

export const cumeeiraModel = defineModel({
  name: 'cumeeira',
  label: { en: 'Cumeeira huts', pt: 'Refúgios da Cumeeira' },
  connection: 'cumeeira',
  entities: {
    region: {
      label: 'Region',
      plural: 'Regions',
      key: 'id',
      scope: inRegion('id'),
      fields: {
        id: key,
        name: text('Name'),
        office: text('Office'),
        hectares: number('Hectares', '#,##0'),
        outline: text('Outline'),
      },
      relations: { huts: many('Huts', 'hut', 'region_id') },
    },
    hut: {
      label: 'Hut',
      plural: 'Huts',
      key: 'id',
      scope: inRegion('region_id'),
      fields: {
        id: { label: 'Number', type: 'number' },
        region_id: key,
        name: text('Name'),
        altitude: { label: 'Altitude (m)', type: 'number', column: 'altitude_m', format: '#,##0' },
        beds: number('Beds'),
        opened_on: date('Opened on'),
        description: text('Description'),
        photo: { label: 'Photo', type: 'picture' },
        wind_limit: { label: 'Wind limit (km/h)', type: 'number', column: 'wind_limit_kmh' },
        notice: text('Notice'),
        lon: { label: 'Longitude', type: 'number', format: '0.000' },
        lat: { label: 'Latitude', type: 'number', format: '0.000' },
      },
      relations: {
        region: one('Region', 'region', 'region_id'),
        stays: many('Stays', 'stay', 'hut_id'),
        wardens: many('Wardens', 'warden', 'hut_id'),
        flights: many('Flights', 'flight', 'hut_id'),
        readings: many('Readings', 'weather', 'hut_id'),
        signals: many('Signals', 'signals', 'hut_id'),
        inspections: many('Inspections', 'inspection', 'hut_id'),
      },
    },
    member: {
      label: 'Member',
      plural: 'Members',
      key: 'id',
      fields: {
        id: key,
        name: text('Name'),
        number: text('Number'),
        tier: { ...text('Tier'), choices: TIERS },
        country: text('Country'),
        email: { label: 'E-mail', type: 'text', hidden: true },
        birth_year: number('Born in'),
      },
    },
    stay: {
      label: 'Stay',
      plural: 'Stays',
      key: 'id',
      scope: inRegion('hut.region_id'),
      fields: {
        id: { label: 'Number', type: 'number' },
        hut_id: key,
        member_id: key,
        arrival: date('Arrival'),
        departure: date('Departure'),
        party_size: number('Party'),
        status: {
          ...text('Status'),
          choices: STATUSES,
        },
        booked_at: { label: 'Booked at', type: 'datetime', format: 'd mmm yyyy hh:mm' },
        nights: { label: 'Nights', type: 'number', formula: 'DAYS(departure; arrival) * party_size' },
      },
      relations: {
        hut: one('Hut', 'hut', 'hut_id'),
        member: one('Member', 'member', 'member_id'),
        charges: many('Charges', 'charge', 'stay_id'),
        payments: many('Payments', 'payment', 'stay_id'),
      },
    },
    charge: {
      label: 'Charge',
      plural: 'Charges',
      key: 'id',
      scope: inRegion('stay.hut.region_id'),
      fields: {
        id: key,
        stay_id: key,
        kind: { ...text('Kind'), choices: CHARGES },
        note: text('Note'),
        quantity: number('Quantity', '#,##0.##'),
        unit_price: money('Unit price'),
        vat_rate: number('VAT rate', '0%'),
        amount: money('Amount'),
      },
      relations: { stay: one('Stay', 'stay', 'stay_id') },
    },
    payment: {
      label: 'Payment',
      plural: 'Payments',
      key: 'id',
      scope: inRegion('stay.hut.region_id'),
      fields: {
        id: key,
        stay_id: key,
        paid_on: date('Paid on'),
        method: { ...text('Method'), choices: METHODS },
        amount: money('Amount'),
      },
      relations: { stay: one('Stay', 'stay', 'stay_id') },
    },
    warden: {
      label: 'Warden',
      plural: 'Wardens',
      key: 'id',
      scope: inRegion('hut.region_id'),
      fields: {
        id: key,
        hut_id: { label: 'Hut number', type: 'number' },
        name: text('Name'),
        from_date: date('From'),
        to_date: date('Until'),
      },
      relations: { hut: one('Hut', 'hut', 'hut_id'), certificates: many('Certificates', 'certificate', 'warden_id') },
    },
    course: {
      label: 'Course',
      plural: 'Courses',
      key: 'id',
      fields: { id: key, title: text('Title'), level: text('Level') },
    },
    certificate: {
      label: 'Certificate',
      plural: 'Certificates',
      key: 'id',
      scope: inRegion('warden.hut.region_id'),
      fields: {
        id: key,
        warden_id: key,
        course_id: key,
        passed_on: date('Passed on'),
        valid_until: date('Valid until'),
      },
      relations: { warden: one('Warden', 'warden', 'warden_id'), course: one('Course', 'course', 'course_id') },
    },
    inspection: {
      label: 'Inspection',
      plural: 'Inspections',
      key: 'id',
      scope: inRegion('hut.region_id'),
      fields: { id: key, hut_id: key, inspected_on: date('Inspected on'), inspector: text('Inspector') },
      relations: { hut: one('Hut', 'hut', 'hut_id'), findings: many('Findings', 'finding', 'inspection_id') },
    },
    finding: {
      label: 'Finding',
      plural: 'Findings',
      key: 'id',
      scope: inRegion('inspection.hut.region_id'),
      fields: {
        id: key,
        inspection_id: key,
        topic: text('Topic'),
        score: number('Score'),
        threshold: number('Threshold'),
        remark: text('Remark'),
      },
      relations: { inspection: one('Inspection', 'inspection', 'inspection_id') },
    },
    flight: {
      label: 'Flight',
      plural: 'Flights',
      key: 'id',
      scope: inRegion('hut.region_id'),
      fields: {
        id: key,
        hut_id: { label: 'Hut number', type: 'number' },
        flown_on: date('Flown on'),
        kg: number('Load (kg)', '#,##0.0'),
        cost: money('Cost'),
      },
      relations: { hut: one('Hut', 'hut', 'hut_id') },
    },
    weather: {
      label: 'Reading',
      plural: 'Readings',
      description: 'What the station of a hut measured, every ten minutes.',
      table: 'weather_10min',
      key: ['hut_id', 'read_at'],
      time: 'read_at',
      scope: inRegion('hut.region_id'),
      fields: {
        hut_id: key,
        read_at: { label: 'Read at', type: 'datetime', format: 'd mmm yyyy hh:mm' },
        wind: { label: 'Wind', type: 'number', column: 'wind_kmh', format: '0.0', unit: 'km/h' },
        snow: { label: 'Snow', type: 'number', column: 'snow_cm', format: '0', unit: 'cm' },
        battery: { label: 'Battery', type: 'number', column: 'battery_pct', format: '0"%"' },
        visibility: { label: 'Visibility', type: 'number', column: 'visibility_km', format: '0.0', unit: 'km' },
      },
      relations: { hut: one('Hut', 'hut', 'hut_id') },
    },
    signals: {
      label: 'Signal',
      plural: 'Signals',
      description: 'What the station of a hut sent, one row of the log for each value.',
      table: 'signal_log',
      readings: { name: 'signal', value: 'value', columns: { wind: 'wind_kmh', battery: 'battery_pct', door: 'door' } },
      key: ['hut_id', 'logged_at'],
      time: 'logged_at',
      scope: inRegion('hut.region_id'),
      fields: {
        hut_id: key,
        logged_at: { label: 'Logged at', type: 'datetime', format: 'd mmm yyyy hh:mm' },
        wind: { label: 'Wind', type: 'number', format: '0.0', unit: 'km/h' },
        battery: { label: 'Battery', type: 'number', format: '0"%"' },
        door: { label: 'Door', type: 'number', choices: { 0: 'closed', 1: 'open' } },
      },
      relations: { hut: one('Hut', 'hut', 'hut_id') },
    },
    signal_log: {
      label: 'Signal log',
      plural: 'Signal log',
      description: 'The log of all stations as it is kept: one row for each value, with its name.',
      key: ['hut_id', 'logged_at', 'signal'],
      time: 'logged_at',
      scope: inRegion('hut.region_id'),
      fields: {
        hut_id: key,
        logged_at: { label: 'Logged at', type: 'datetime', format: 'd mmm yyyy hh:mm' },
        signal: text('Signal'),
        value: number('Value', '0.##'),
      },
      relations: { hut: one('Hut', 'hut', 'hut_id') },
    },
    stay_balance: {
      label: 'Balance',
      plural: 'Balances',
      key: 'stay_id',
      scope: inRegion('stay.hut.region_id'),
      fields: { stay_id: key, charged: money('Charged'), paid: money('Paid'), balance: money('Balance') },
      relations: { stay: one('Stay', 'stay', 'stay_id') },
    },
    stays_between: {
      label: 'Stays between two days',
      plural: 'Stays between two days',
      function: {
        name: 'stays_between',
        arguments: { from_day: { label: 'From', type: 'date' }, to_day: { label: 'Before', type: 'date' } },
      },
      key: 'id',
      scope: inRegion('hut.region_id'),
      fields: {
        id: { label: 'Number', type: 'number' },
        hut_id: key,
        arrival: date('Arrival'),
        departure: date('Departure'),
        party_size: number('Party'),
        status: text('Status'),
      },
      relations: { hut: one('Hut', 'hut', 'hut_id') },
    },
  },
});
