-- How much the site has told lately is asked at each message where it has a limit.
alter table delivery add key delivery_by_time (written);
