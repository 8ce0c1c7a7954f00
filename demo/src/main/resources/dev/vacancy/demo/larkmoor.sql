-- Larkmoor Beekeepers' Co-operative. All names are invented.

create table keeper (
  keeper_id integer not null primary key,
  name varchar(60) not null,
  email varchar(80) not null,
  joined_on date not null,
  left_at timestamp
);

create table apiary (
  apiary_id integer not null primary key,
  name varchar(40) not null,
  village varchar(40) not null,
  closed_at timestamp
);

-- Who may work at which apiary.
create table apiary_keeper (
  apiary_id integer not null,
  keeper_id integer not null,
  role varchar(20) not null,
  primary key (apiary_id, keeper_id),
  constraint apiary_keeper_apiary foreign key (apiary_id) references apiary (apiary_id) on delete cascade,
  constraint apiary_keeper_keeper foreign key (keeper_id) references keeper (keeper_id) on delete cascade
);
create index apiary_keeper_by_keeper on apiary_keeper (keeper_id);

-- Who served where from when until when: one row for each stay.
create table placement (
  placement_id integer not null primary key,
  keeper_id integer not null,
  apiary_id integer not null,
  from_date date not null,
  until_date date,
  constraint placement_keeper foreign key (keeper_id) references keeper (keeper_id) on delete cascade,
  constraint placement_apiary foreign key (apiary_id) references apiary (apiary_id) on delete cascade
);
create index placement_by_keeper on placement (keeper_id);
create index placement_by_apiary on placement (apiary_id);

-- A hive has a queen and a queen lives in a hive: the two tables point at each other.
create table queen (
  queen_id integer not null primary key,
  name varchar(40) not null,
  mark varchar(10) not null,
  hatched_on date not null,
  mother_id integer,
  constraint queen_mother foreign key (mother_id) references queen (queen_id) on delete set null
);
create index queen_by_mother on queen (mother_id);

create table hive (
  hive_id integer not null primary key,
  name varchar(40) not null,
  apiary_id integer not null,
  queen_id integer,
  wood varchar(20) not null,
  set_up_on date not null,
  constraint hive_apiary foreign key (apiary_id) references apiary (apiary_id) on delete cascade,
  constraint hive_queen foreign key (queen_id) references queen (queen_id) on delete set null
);
create index hive_by_apiary on hive (apiary_id);
create index hive_by_queen on hive (queen_id);
alter table queen add column hive_id integer references hive (hive_id) on delete set null;
create index queen_by_hive on queen (hive_id);

create table inspection (
  inspection_id integer not null primary key,
  hive_id integer not null,
  keeper_id integer,
  inspected_on date not null,
  note varchar(120) not null,
  constraint inspection_hive foreign key (hive_id) references hive (hive_id) on delete cascade,
  constraint inspection_keeper foreign key (keeper_id) references keeper (keeper_id) on delete set null
);
create index inspection_by_hive on inspection (hive_id);
create index inspection_by_keeper on inspection (keeper_id);

create table frame_check (
  inspection_id integer not null,
  frame_no smallint not null,
  brood_percent smallint not null,
  stores varchar(10) not null,
  primary key (inspection_id, frame_no),
  constraint frame_check_inspection foreign key (inspection_id) references inspection (inspection_id) on delete cascade
);

create table treatment (
  treatment_id integer not null primary key,
  hive_id integer not null,
  remedy varchar(40) not null,
  applied_on date not null,
  withhold_until date not null,
  constraint treatment_hive foreign key (hive_id) references hive (hive_id) on delete cascade
);
create index treatment_by_hive on treatment (hive_id);

create table reading (
  reading_id bigint not null primary key,
  hive_id integer not null,
  taken_at timestamp not null,
  weight_kg numeric(6,2) not null,
  brood_celsius numeric(4,1) not null,
  constraint reading_hive foreign key (hive_id) references hive (hive_id) on delete cascade
);
create index reading_by_hive on reading (hive_id);

create table honey_batch (
  batch_id integer not null primary key,
  code varchar(12) not null,
  jarred_on date not null,
  kilos numeric(6,1) not null,
  sold_on date,
  constraint honey_batch_code unique (code)
);

-- A batch that was sold must stay traceable to its hives.
create table batch_hive (
  batch_id integer not null,
  hive_id integer not null,
  frames smallint not null,
  primary key (batch_id, hive_id),
  constraint batch_hive_batch foreign key (batch_id) references honey_batch (batch_id) on delete cascade,
  constraint batch_hive_hive foreign key (hive_id) references hive (hive_id)
);
create index batch_hive_by_hive on batch_hive (hive_id);

-- A picture shows a hive or an apiary. The database doesn't know: there is no foreign key.
create table photo (
  photo_id integer not null primary key,
  caption varchar(80) not null,
  taken_on date not null,
  hive_no integer,
  apiary_no integer
);
