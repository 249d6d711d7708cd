-- Every file that was found, and what has become of it. What runs have used before is taken along,
-- under the identity that it had, so that none of it is used again.
rename table arrival to arrival_before;

create table arrival (
  id bigint not null primary key,
  identity char(64) not null,
  watch varchar(100) not null,
  place varchar(100) not null,
  path varchar(2000) not null,
  business_date date null,
  size bigint not null,
  modified datetime(3) not null,
  file_key varchar(200) not null,
  checksum varchar(64) not null,
  found datetime(3) not null,
  ready datetime(3) null,
  state varchar(20) not null,
  since datetime(3) not null,
  run bigint not null,
  repeats bigint not null,
  note varchar(1200) not null,
  tidy varchar(10) not null default '',
  tidy_note varchar(1200) not null default '',
  key arrival_identity (identity),
  key arrival_content (checksum, watch),
  key arrival_of_watch (watch, found),
  key arrival_of_run (run),
  key arrival_state (state, id),
  key arrival_since (since),
  key arrival_tidy (tidy, place)
);

insert into arrival (id, identity, watch, place, path, size, modified, file_key, checksum, found,
  ready, state, since, run, repeats, note)
select row_number() over (order by at, identity), identity, watch, host, path, size, modified, '', '',
  at, at, 'used', at, run, 0, ''
from arrival_before;

update arrival a join run r on r.id = a.run set a.business_date = r.business_date;

drop table arrival_before;

-- Since when there is a watch: files that were there before may be left alone.
create table file_watch_begun (
  watch varchar(100) not null primary key,
  since datetime(3) not null
);
