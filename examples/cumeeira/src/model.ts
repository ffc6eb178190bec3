import { type Claims, defineModel, type FieldInput, type RelationInput, type RowScope } from '@gaveta/server';

const text = (label: string): FieldInput => ({ label, type: 'text' });
const date = (label: string): FieldInput => ({ label, type: 'date', format: 'd mmm yyyy' });
const number = (label: string, format?: string): FieldInput => ({
  label,
  type: 'number',
  ...(format ? { format } : {}),
});
const money = (label: string): FieldInput => number(label, '#,##0.00');
const key: FieldInput = { label: 'Id', type: 'number', hidden: true };

const one = (label: string, to: string, here: string): RelationInput => ({
  label,
  to,
  kind: 'one',
  on: { [here]: 'id' },
});
const many = (label: string, to: string, there: string): RelationInput => ({
  label,
  to,
  kind: 'many',
  on: { id: there },
});

/** The office sees everything; a warden the rows of their own region. */
const inRegion =
  (field: string) =>
  (claims: Claims): RowScope =>
    claims.role === 'office' ? 'everything' : { keep: `${field} = CLAIM("region")` };

export const cumeeiraModel = defineModel({
  name: 'cumeeira',
  label: 'Cumeeira huts',
  connection: 'cumeeira',
  entities: {
    region: {
      label: 'Region',
      plural: 'Regions',
      key: 'id',
      scope: inRegion('id'),
      fields: { id: key, name: text('Name'), office: text('Office'), hectares: number('Hectares', '#,##0') },
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
      },
      relations: {
        region: one('Region', 'region', 'region_id'),
        stays: many('Stays', 'stay', 'hut_id'),
        wardens: many('Wardens', 'warden', 'hut_id'),
        flights: many('Flights', 'flight', 'hut_id'),
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
        tier: text('Tier'),
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
        status: text('Status'),
        booked_at: { label: 'Booked at', type: 'datetime', format: 'd mmm yyyy hh:mm' },
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
        kind: text('Kind'),
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
      fields: { id: key, stay_id: key, paid_on: date('Paid on'), method: text('Method'), amount: money('Amount') },
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
  },
});
