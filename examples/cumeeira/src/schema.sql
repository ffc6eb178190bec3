create table region (id int primary key, name text not null, office text not null, hectares int not null, outline text not null);
create table hut (
  id int primary key, region_id int not null references region, name text not null, altitude_m int not null,
  beds int not null, opened_on date not null, description text not null, photo bytea, wind_limit_kmh int not null,
  notice text, lon numeric(9,5) not null, lat numeric(8,5) not null
);
create table member (
  id int primary key, name text not null, number text not null unique, tier text not null, country text not null,
  email text not null, birth_year int
);
create table stay (
  id int primary key, hut_id int not null references hut, member_id int not null references member,
  arrival date not null, departure date not null, party_size int not null, status text not null,
  booked_at timestamptz not null
);
create table charge (
  id int primary key, stay_id int not null references stay, kind text not null, note text, quantity numeric(8,3) not null,
  unit_price numeric(10,2), vat_rate numeric(4,3) not null, amount numeric(12,2)
);
create table payment (
  id int primary key, stay_id int not null references stay, paid_on date not null, method text not null,
  amount numeric(12,2) not null
);
create table warden (id int primary key, hut_id int not null references hut, name text not null, from_date date not null, to_date date);
create table course (id int primary key, title text not null, level text not null);
create table certificate (
  id int primary key, warden_id int not null references warden, course_id int not null references course,
  passed_on date not null, valid_until date
);
create table inspection (id int primary key, hut_id int not null references hut, inspected_on date not null, inspector text not null);
create table finding (
  id int primary key, inspection_id int not null references inspection, topic text not null, score int not null,
  threshold int not null, remark text
);
create table flight (id int primary key, hut_id int not null references hut, flown_on date not null, kg numeric(8,1) not null, cost numeric(10,2) not null);
create table weather_10min (
  hut_id int not null references hut, read_at timestamptz not null, wind_kmh numeric(5,1), snow_cm int,
  battery_pct int, visibility_km numeric(4,1), primary key (hut_id, read_at)
);
create table signal_log (logged_at timestamptz not null, hut_id int not null references hut, signal text not null, value numeric(12,4));

create view stay_balance as
  select s.id as stay_id,
    coalesce((select sum(c.amount) from charge c where c.stay_id = s.id), 0) as charged,
    coalesce((select sum(p.amount) from payment p where p.stay_id = s.id), 0) as paid,
    coalesce((select sum(c.amount) from charge c where c.stay_id = s.id), 0)
      - coalesce((select sum(p.amount) from payment p where p.stay_id = s.id), 0) as balance
  from stay s;

create function stays_between(from_day date, to_day date) returns setof stay language sql stable as
  $$ select * from stay where arrival >= from_day and arrival < to_day order by arrival, id $$;
