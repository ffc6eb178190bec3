/** What coded values mean, in the languages that the example reports speak. */
const words = (en: string, pt: string, de: string, pl: string, ar: string) => ({ en, pt, de, pl, ar });

export const TIERS = {
  guest: words('guest', 'visitante', 'Gast', 'gość', 'زائر'),
  member: words('member', 'sócio', 'Mitglied', 'członek', 'عضو'),
  patron: words('patron', 'benemérito', 'Förderer', 'mecenas', 'راعٍ'),
};

export const STATUSES = {
  booked: words('Booked', 'Reservada', 'Gebucht', 'Zarezerwowany', 'محجوز'),
  stayed: words('Stayed', 'Realizada', 'Stattgefunden', 'Zrealizowany', 'مكتملة'),
  'no-show': words('No-show', 'Não compareceu', 'Nicht erschienen', 'Niewykorzystany', 'لم يحضر'),
  cancelled: words('Cancelled', 'Anulada', 'Storniert', 'Odwołany', 'ملغاة'),
};

export const CHARGES = {
  bunk: words('bunk', 'beliche', 'Schlafplatz', 'łóżko', 'سرير'),
  'half board': words('half board', 'meia pensão', 'Halbpension', 'niepełne wyżywienie', 'نصف إقامة'),
  linen: words('linen', 'roupa de cama', 'Bettwäsche', 'pościel', 'أغطية'),
  firewood: words('firewood', 'lenha', 'Brennholz', 'drewno opałowe', 'حطب'),
  'rescue levy': words('rescue levy', 'taxa de resgate', 'Rettungsabgabe', 'opłata ratownicza', 'رسم الإنقاذ'),
  transfer: words('transfer', 'transporte', 'Transfer', 'transport', 'نقل'),
};

export const METHODS = {
  card: words('card', 'cartão', 'Karte', 'karta', 'بطاقة'),
  transfer: words('transfer', 'transferência', 'Überweisung', 'przelew', 'تحويل'),
  cash: words('cash', 'numerário', 'bar', 'gotówka', 'نقدًا'),
};
