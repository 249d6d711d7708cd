-- A draft that goes live by itself: from which business date it holds, who said so and why, and what is in its way.
alter table draft
  add column live_from date,
  add column live_by varchar(100) not null default '',
  add column live_reason varchar(1000) not null default '',
  add column live_trouble varchar(2000) not null default '',
  add key draft_live (live_from);
