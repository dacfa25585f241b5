CREATE TABLE `address` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `url_key` varbinary(2048) NOT NULL,
  `url` text NOT NULL,
  `code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `captures` int(10) unsigned NOT NULL,
  `first_at` datetime(6) NOT NULL,
  `last_at` datetime(6) NOT NULL,
  `last_alive_at` datetime(6) DEFAULT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `address_key` (`url_key`),
  UNIQUE KEY `address_code` (`code`),
  KEY `address_recent` (`last_at`,`id`),
  FULLTEXT KEY `address_words` (`url`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `warc_file` (
  `id` int(10) unsigned NOT NULL AUTO_INCREMENT,
  `path` varchar(190) NOT NULL,
  `sha256` binary(32) NOT NULL,
  `bytes` bigint(20) unsigned NOT NULL,
  `origin` varchar(10) NOT NULL,
  `given_name` varchar(255) NOT NULL,
  `stored_at` datetime(6) NOT NULL,
  `records` int(10) unsigned NOT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `warc_path` (`path`),
  UNIQUE KEY `warc_sha256` (`sha256`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `arrival` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `name` varchar(255) NOT NULL,
  `bytes` bigint(20) unsigned NOT NULL,
  `modified` bigint(20) unsigned NOT NULL,
  `state` varchar(12) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `message` text DEFAULT NULL,
  `sha256` binary(32) DEFAULT NULL,
  `records` int(10) unsigned NOT NULL,
  `captures` int(10) unsigned NOT NULL,
  `findings` longtext NOT NULL,
  `begun_at` datetime(6) NOT NULL,
  `finished_at` datetime(6) DEFAULT NULL,
  `owner` varchar(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  `promised` binary(32) DEFAULT NULL,
  `touched_at` datetime(6) NOT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `arrival_code` (`code`),
  KEY `arrival_state` (`state`,`id`),
  KEY `arrival_touched` (`state`,`touched_at`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `capture` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `address_id` bigint(20) unsigned NOT NULL,
  `captured_at` datetime(6) NOT NULL,
  `code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `url` text NOT NULL,
  `warc_file_id` int(10) unsigned NOT NULL,
  `response_offset` bigint(20) unsigned NOT NULL,
  `status` smallint(5) unsigned NOT NULL,
  `title` varchar(500) DEFAULT NULL,
  `mime` varchar(100) DEFAULT NULL,
  `parts` int(10) unsigned NOT NULL,
  `bytes` bigint(20) unsigned NOT NULL,
  `payload_sha256` binary(32) DEFAULT NULL,
  `dom_offset` bigint(20) unsigned DEFAULT NULL,
  `text_offset` bigint(20) unsigned DEFAULT NULL,
  `redirect_to` text DEFAULT NULL,
  `agent` varchar(190) NOT NULL,
  `how` varchar(16) NOT NULL,
  `changed` double DEFAULT NULL,
  `leads_on` tinyint(1) GENERATED ALWAYS AS (`redirect_to` is not null) STORED,
  `verdict` varchar(8) CHARACTER SET ascii COLLATE ascii_general_ci DEFAULT NULL,
  `completeness` mediumtext DEFAULT NULL,
  `fragment` varchar(500) DEFAULT NULL,
  PRIMARY KEY (`address_id`,`captured_at`,`id`),
  UNIQUE KEY `capture_id` (`id`),
  UNIQUE KEY `capture_code` (`code`),
  KEY `capture_recent` (`captured_at`,`id`),
  KEY `capture_file` (`warc_file_id`,`response_offset`),
  KEY `capture_history` (`address_id`,`captured_at`,`status`,`leads_on`,`changed`),
  FULLTEXT KEY `capture_words` (`title`),
  CONSTRAINT `capture_address` FOREIGN KEY (`address_id`) REFERENCES `address` (`id`),
  CONSTRAINT `capture_warc` FOREIGN KEY (`warc_file_id`) REFERENCES `warc_file` (`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `capture_description` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `job_id` bigint(20) unsigned DEFAULT NULL,
  `capture_code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin DEFAULT NULL,
  `title` varchar(500) NOT NULL,
  `why` text NOT NULL,
  `person` varchar(190) NOT NULL,
  `written_at` datetime(6) NOT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `description_job` (`job_id`),
  UNIQUE KEY `description_capture` (`capture_code`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `capture_description_tag` (
  `description_id` bigint(20) unsigned NOT NULL,
  `tag_id` bigint(20) unsigned NOT NULL,
  PRIMARY KEY (`description_id`,`tag_id`),
  KEY `description_tag` (`tag_id`,`description_id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `capture_job` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `url` text NOT NULL,
  `stage` varchar(12) NOT NULL,
  `reason` varchar(24) DEFAULT NULL,
  `message` text DEFAULT NULL,
  `attempts` smallint(5) unsigned NOT NULL,
  `requested_at` datetime(6) NOT NULL,
  `finished_at` datetime(6) DEFAULT NULL,
  `capture_code` varchar(16) DEFAULT NULL,
  `agent` varchar(190) NOT NULL,
  `key_hash` binary(16) NOT NULL DEFAULT '0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0',
  `how` varchar(10) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL DEFAULT 'rendered',
  `missing_of` varchar(16) CHARACTER SET ascii COLLATE ascii_general_ci DEFAULT NULL,
  `list_id` bigint(20) unsigned DEFAULT NULL,
  `host` varchar(255) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL DEFAULT '',
  `not_before` datetime(6) DEFAULT NULL,
  `options` mediumtext DEFAULT NULL,
  `secrets` mediumtext DEFAULT NULL,
  `verdict` varchar(8) DEFAULT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `job_code` (`code`),
  KEY `job_open` (`finished_at`,`id`),
  KEY `job_key` (`key_hash`,`id`),
  KEY `job_list` (`list_id`,`stage`,`id`),
  KEY `job_list_host` (`list_id`,`host`,`finished_at`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `capture_list` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `name` varchar(200) NOT NULL,
  `state` varchar(10) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `obey` tinyint(1) NOT NULL,
  `overruled` varchar(500) DEFAULT NULL,
  `agent` varchar(190) NOT NULL,
  `made_at` datetime(6) NOT NULL,
  `finished_at` datetime(6) DEFAULT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `capture_list_code` (`code`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `choice` (
  `person` varchar(190) NOT NULL,
  `choices` mediumtext NOT NULL,
  PRIMARY KEY (`person`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `crawl` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `name` varchar(200) NOT NULL,
  `seeds` mediumtext NOT NULL,
  `scope` mediumtext NOT NULL,
  `how` varchar(10) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `obey` tinyint(1) NOT NULL,
  `overruled` varchar(500) DEFAULT NULL,
  `pause` int(10) unsigned NOT NULL,
  `maps` tinyint(1) NOT NULL,
  `most_pages` int(10) unsigned NOT NULL,
  `most_bytes` bigint(20) unsigned NOT NULL,
  `most_seconds` int(10) unsigned NOT NULL,
  `agent` varchar(190) NOT NULL,
  `made_at` datetime(6) NOT NULL,
  `state` varchar(10) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `ended` varchar(16) CHARACTER SET ascii COLLATE ascii_general_ci DEFAULT NULL,
  `run` int(10) unsigned NOT NULL,
  `running_since` datetime(6) DEFAULT NULL,
  `seconds` int(10) unsigned NOT NULL,
  `finished_at` datetime(6) DEFAULT NULL,
  `pages` int(10) unsigned NOT NULL,
  `parts` int(10) unsigned NOT NULL,
  `again` int(10) unsigned NOT NULL,
  `bytes` bigint(20) unsigned NOT NULL,
  `outside` int(10) unsigned NOT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `crawl_code` (`code`),
  KEY `crawl_state` (`state`,`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `crawl_host` (
  `crawl_id` bigint(20) unsigned NOT NULL,
  `host` varchar(255) NOT NULL,
  `next_at` datetime(6) NOT NULL,
  `strain` smallint(5) unsigned NOT NULL,
  PRIMARY KEY (`crawl_id`,`host`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `crawl_kind` (
  `crawl_id` bigint(20) unsigned NOT NULL,
  `kind` binary(8) NOT NULL,
  `name` text NOT NULL,
  `pages` int(10) unsigned NOT NULL,
  `idle` int(10) unsigned NOT NULL,
  `closed` tinyint(1) NOT NULL,
  `seen` mediumblob NOT NULL,
  PRIMARY KEY (`crawl_id`,`kind`),
  KEY `crawl_kind_closed` (`crawl_id`,`closed`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `crawl_page` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `crawl_id` bigint(20) unsigned NOT NULL,
  `key_hash` binary(16) NOT NULL,
  `url` mediumtext NOT NULL,
  `host` varchar(255) NOT NULL,
  `role` varchar(8) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `depth` smallint(5) unsigned NOT NULL,
  `via` varchar(8) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `parent_id` bigint(20) unsigned DEFAULT NULL,
  `kind` binary(8) DEFAULT NULL,
  `state` varchar(8) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `reason` varchar(24) CHARACTER SET ascii COLLATE ascii_general_ci DEFAULT NULL,
  `message` text DEFAULT NULL,
  `status` smallint(5) unsigned DEFAULT NULL,
  `verdict` varchar(8) CHARACTER SET ascii COLLATE ascii_general_ci DEFAULT NULL,
  `slot_id` bigint(20) unsigned DEFAULT NULL,
  `attempts` smallint(5) unsigned NOT NULL DEFAULT 0,
  `not_before` datetime(6) DEFAULT NULL,
  `segment_id` bigint(20) unsigned DEFAULT NULL,
  `at_offset` bigint(20) unsigned DEFAULT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `crawl_page_key` (`crawl_id`,`key_hash`),
  KEY `crawl_page_next` (`crawl_id`,`state`,`depth`,`id`),
  KEY `crawl_page_kind` (`crawl_id`,`kind`,`state`),
  KEY `crawl_page_reason` (`crawl_id`,`state`,`reason`,`id`),
  KEY `crawl_page_slot` (`slot_id`,`state`),
  KEY `crawl_page_counts` (`crawl_id`,`role`,`state`,`verdict`),
  KEY `crawl_page_order` (`crawl_id`,`role`,`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `crawl_part` (
  `crawl_id` bigint(20) unsigned NOT NULL,
  `url_hash` binary(16) NOT NULL,
  `outcome` varchar(16) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `gaps` mediumtext DEFAULT NULL,
  PRIMARY KEY (`crawl_id`,`url_hash`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `crawl_segment` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `crawl_id` bigint(20) unsigned NOT NULL,
  `slot_id` bigint(20) unsigned NOT NULL,
  `path` varchar(190) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `info` varchar(60) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `state` varchar(8) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `bytes` bigint(20) unsigned NOT NULL,
  `pages` int(10) unsigned NOT NULL,
  `begun_at` datetime(6) NOT NULL,
  `file_id` bigint(20) unsigned DEFAULT NULL,
  PRIMARY KEY (`id`),
  KEY `crawl_segment_crawl` (`crawl_id`,`state`),
  KEY `crawl_segment_slot` (`slot_id`,`state`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `crawl_slot` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `crawl_id` bigint(20) unsigned NOT NULL,
  `run` int(10) unsigned NOT NULL,
  `turn` int(10) unsigned NOT NULL,
  PRIMARY KEY (`id`),
  KEY `crawl_slot_crawl` (`crawl_id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `fingerprint` (
  `capture_id` bigint(20) unsigned NOT NULL,
  `hashes` varbinary(128) NOT NULL,
  PRIMARY KEY (`capture_id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `fingerprint_band` (
  `band` tinyint(3) unsigned NOT NULL,
  `value` int(10) unsigned NOT NULL,
  `capture_id` bigint(20) unsigned NOT NULL,
  PRIMARY KEY (`band`,`value`,`capture_id`),
  KEY `fingerprint_band_capture` (`capture_id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `fingerprint_reach` (
  `id` tinyint(3) unsigned NOT NULL,
  `behind` bigint(20) unsigned NOT NULL,
  PRIMARY KEY (`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `history_summary` (
  `summary_key` binary(16) NOT NULL,
  `of` varchar(40) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `summary` mediumtext CHARACTER SET utf8mb4 COLLATE utf8mb4_general_ci NOT NULL,
  PRIMARY KEY (`summary_key`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `joined_address` (
  `address_code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `group_code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `reason` varchar(20) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `person` varchar(190) NOT NULL,
  `joined_at` datetime(6) NOT NULL,
  PRIMARY KEY (`address_code`),
  KEY `joined_group` (`group_code`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `last_viewed` (
  `address_code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `capture_code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `viewed_at` datetime(6) NOT NULL,
  PRIMARY KEY (`address_code`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `ledger_line` (
  `seq` bigint(20) unsigned NOT NULL,
  `hash` binary(32) NOT NULL,
  `kind` varchar(32) NOT NULL,
  `subject` varchar(190) NOT NULL,
  `at` datetime(6) NOT NULL,
  `ends_at` bigint(20) unsigned NOT NULL,
  `line` mediumtext NOT NULL,
  PRIMARY KEY (`seq`),
  KEY `ledger_subject` (`subject`,`seq`),
  KEY `ledger_kind` (`kind`,`seq`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `lifeline` (
  `address_id` bigint(20) unsigned NOT NULL,
  `captures` int(10) unsigned NOT NULL,
  `packed` longblob NOT NULL,
  PRIMARY KEY (`address_id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `live_address` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `url_hash` binary(16) NOT NULL,
  `key_hash` binary(16) NOT NULL,
  `url` text NOT NULL,
  `host` varchar(255) NOT NULL,
  `checks` int(10) unsigned NOT NULL DEFAULT 0,
  `verdict` varchar(12) DEFAULT NULL,
  `reason` varchar(16) DEFAULT NULL,
  `is_final` tinyint(1) NOT NULL DEFAULT 0,
  `confidence` float DEFAULT NULL,
  `since` datetime(6) DEFAULT NULL,
  `seen_at` datetime(6) DEFAULT NULL,
  `checked_at` datetime(6) DEFAULT NULL,
  `next_at` datetime(6) DEFAULT NULL,
  `wanted_at` datetime(6) DEFAULT NULL,
  `not_before` datetime(6) DEFAULT NULL,
  `tries` tinyint(3) unsigned NOT NULL DEFAULT 0,
  `claimed_by` varchar(120) DEFAULT NULL,
  `claimed_until` datetime(6) DEFAULT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `live_address_url` (`url_hash`),
  KEY `live_address_key` (`key_hash`),
  KEY `live_address_wanted` (`wanted_at`,`id`),
  KEY `live_address_claimed` (`claimed_by`),
  KEY `live_address_next` (`next_at`),
  KEY `live_address_host` (`host`,`verdict`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `live_check` (
  `live_id` bigint(20) unsigned NOT NULL,
  `at` datetime(6) NOT NULL,
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `reason` varchar(16) NOT NULL,
  `status` smallint(5) unsigned DEFAULT NULL,
  `final_url` text NOT NULL,
  `hops` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(`hops`)),
  `evidence` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(`evidence`)),
  `confidence` float NOT NULL,
  `against` varchar(16) DEFAULT NULL,
  PRIMARY KEY (`live_id`,`at`,`id`),
  UNIQUE KEY `live_check_id` (`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `noise_rule` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `scope` varchar(8) NOT NULL,
  `place` text NOT NULL,
  `place_hash` binary(16) NOT NULL,
  `kind` varchar(8) NOT NULL,
  `selector` varchar(1000) NOT NULL DEFAULT '',
  `quote` varchar(1000) NOT NULL DEFAULT '',
  `pattern` varchar(500) NOT NULL DEFAULT '',
  `note` varchar(1000) NOT NULL DEFAULT '',
  `person` varchar(190) NOT NULL,
  `created_at` datetime(6) NOT NULL,
  `ended_at` datetime(6) DEFAULT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `noise_rule_code` (`code`),
  KEY `noise_rule_place` (`place_hash`,`ended_at`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

CREATE TABLE `other_archive` (
  `id` int(10) unsigned NOT NULL AUTO_INCREMENT,
  `code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `name` varchar(120) NOT NULL,
  `time_gate` varchar(500) NOT NULL,
  `time_map` varchar(500) NOT NULL,
  `asked` tinyint(1) NOT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `other_archive_code` (`code`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `parcel` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `title` text NOT NULL,
  `wish` longtext NOT NULL,
  `state` varchar(12) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `done` int(10) unsigned NOT NULL,
  `message` text DEFAULT NULL,
  `captures` int(10) unsigned NOT NULL,
  `bytes` bigint(20) unsigned NOT NULL,
  `files` longtext NOT NULL,
  `left_out` longtext NOT NULL,
  `asked_at` datetime(6) NOT NULL,
  `finished_at` datetime(6) DEFAULT NULL,
  `person` varchar(190) DEFAULT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `parcel_code` (`code`),
  KEY `parcel_state` (`state`,`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `queue_message` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `body` longtext NOT NULL,
  `headers` text NOT NULL,
  `available_at` datetime(6) NOT NULL,
  `leased_until` datetime(6) DEFAULT NULL,
  `leased_by` varchar(120) DEFAULT NULL,
  `deliveries` smallint(5) unsigned NOT NULL,
  PRIMARY KEY (`id`),
  KEY `queue_next` (`available_at`,`leased_until`,`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `record` (
  `warc_file_id` int(10) unsigned NOT NULL,
  `at_offset` bigint(20) unsigned NOT NULL,
  `role` varchar(10) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `url_hash` binary(16) NOT NULL,
  `key_hash` binary(16) NOT NULL,
  `captured_at` datetime(6) NOT NULL,
  `method` varchar(8) NOT NULL,
  `status` smallint(5) unsigned NOT NULL,
  `mime` varchar(100) NOT NULL,
  `length` bigint(20) unsigned NOT NULL,
  `payload_sha256` binary(32) DEFAULT NULL,
  `url` text NOT NULL,
  `record_id_hash` binary(8) NOT NULL DEFAULT '0\0\0\0\0\0\0\0',
  `revisit` tinyint(1) NOT NULL DEFAULT 0,
  `request_sha256` binary(32) DEFAULT NULL,
  `cut` tinyint(1) NOT NULL DEFAULT 0,
  PRIMARY KEY (`warc_file_id`,`at_offset`),
  KEY `record_url` (`url_hash`,`captured_at`),
  KEY `record_key` (`key_hash`,`captured_at`),
  KEY `record_payload` (`payload_sha256`),
  KEY `record_id` (`record_id_hash`),
  CONSTRAINT `record_warc` FOREIGN KEY (`warc_file_id`) REFERENCES `warc_file` (`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `reference` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `list_id` bigint(20) unsigned NOT NULL,
  `position` int(10) unsigned NOT NULL,
  `live_id` bigint(20) unsigned NOT NULL,
  `url` text NOT NULL,
  `note` varchar(40) DEFAULT NULL,
  `label` text NOT NULL,
  `context` text NOT NULL,
  `claim` text NOT NULL,
  `accessed` date DEFAULT NULL,
  `quotes` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(`quotes`)),
  `place` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(`place`)),
  `matched_at` datetime(6) DEFAULT NULL,
  `capture_code` varchar(16) DEFAULT NULL,
  `fit` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin DEFAULT NULL CHECK (json_valid(`fit`)),
  `elsewhere` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin DEFAULT NULL CHECK (json_valid(`elsewhere`)),
  `latest_code` varchar(16) DEFAULT NULL,
  `repair_to` text DEFAULT NULL,
  `repair_day` date DEFAULT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `reference_order` (`list_id`,`position`),
  KEY `reference_live` (`live_id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `reference_list` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `code` varchar(16) NOT NULL,
  `name` varchar(200) NOT NULL,
  `format` varchar(12) NOT NULL,
  `file_name` varchar(200) NOT NULL,
  `bytes` bigint(20) unsigned NOT NULL,
  `sha256` binary(32) NOT NULL,
  `agent` varchar(190) NOT NULL,
  `made_at` datetime(6) NOT NULL,
  `asked_at` datetime(6) DEFAULT NULL,
  `is_cut` tinyint(1) NOT NULL DEFAULT 0,
  `elsewhere_at` datetime(6) DEFAULT NULL,
  `matched_at` datetime(6) DEFAULT NULL,
  `repaired_at` datetime(6) DEFAULT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `reference_list_code` (`code`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `tag` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `name` varchar(100) NOT NULL,
  `last_at` datetime(6) NOT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `tag_name` (`name`),
  KEY `tag_last` (`last_at`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `verification` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `started_at` datetime(6) NOT NULL,
  `finished_at` datetime(6) DEFAULT NULL,
  `files` int(10) unsigned NOT NULL,
  `files_done` int(10) unsigned NOT NULL,
  `records` int(10) unsigned NOT NULL,
  `ledger_lines` int(10) unsigned NOT NULL,
  `findings` longtext NOT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `verification_code` (`code`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `watch` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `code` varchar(16) NOT NULL,
  `scope` varchar(8) NOT NULL,
  `target` text NOT NULL,
  `name` varchar(200) NOT NULL,
  `agent` varchar(190) NOT NULL,
  `made_at` datetime(6) NOT NULL,
  `state` varchar(8) NOT NULL,
  `every_days` double DEFAULT NULL,
  `condition_kind` varchar(16) NOT NULL,
  `condition_text` varchar(500) NOT NULL,
  `condition_column` varchar(500) NOT NULL,
  `keeps` tinyint(1) NOT NULL,
  `mails` tinyint(1) NOT NULL,
  `hook_url` text DEFAULT NULL,
  `hook_secret` varchar(64) NOT NULL,
  `due_at` datetime(6) DEFAULT NULL,
  `due_note` varchar(500) NOT NULL DEFAULT '',
  `gathered_at` datetime(6) DEFAULT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `watch_code` (`code`),
  KEY `watch_due` (`due_at`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `watch_event` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `watch_id` bigint(20) unsigned NOT NULL,
  `page_id` bigint(20) unsigned DEFAULT NULL,
  `at` datetime(6) NOT NULL,
  `kind` varchar(12) NOT NULL,
  `url` text DEFAULT NULL,
  `said_before` text NOT NULL,
  `said_after` text NOT NULL,
  `more` int(10) unsigned NOT NULL DEFAULT 0,
  `capture_before` varchar(16) DEFAULT NULL,
  `capture_after` varchar(16) DEFAULT NULL,
  `seen_at` datetime(6) DEFAULT NULL,
  `mailed_at` datetime(6) DEFAULT NULL,
  `hooked_at` datetime(6) DEFAULT NULL,
  `hook_tries` tinyint(3) unsigned NOT NULL DEFAULT 0,
  `hook_said` varchar(300) DEFAULT NULL,
  PRIMARY KEY (`id`),
  KEY `watch_event_of` (`watch_id`,`id`),
  KEY `watch_event_seen` (`seen_at`,`id`),
  KEY `watch_event_mailed` (`mailed_at`,`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `watch_setting` (
  `id` tinyint(3) unsigned NOT NULL,
  `budget` double NOT NULL,
  `bound` double NOT NULL,
  `planned_at` datetime(6) DEFAULT NULL,
  `mail_to` varchar(190) NOT NULL,
  `digest_at` varchar(5) NOT NULL,
  `quiet_from` varchar(5) NOT NULL,
  `quiet_to` varchar(5) NOT NULL,
  `zone` varchar(64) NOT NULL,
  `digested_at` datetime(6) DEFAULT NULL,
  PRIMARY KEY (`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE `watched_page` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `watch_id` bigint(20) unsigned NOT NULL,
  `live_id` bigint(20) unsigned NOT NULL,
  `next_at` datetime(6) NOT NULL,
  `interval_days` double NOT NULL,
  `checked_at` datetime(6) DEFAULT NULL,
  `changed_at` datetime(6) DEFAULT NULL,
  `seen` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(`seen`)),
  `etag` varchar(500) DEFAULT NULL,
  `modified` varchar(100) DEFAULT NULL,
  `is_blind` tinyint(1) NOT NULL DEFAULT 0,
  `is_gone` tinyint(1) NOT NULL DEFAULT 0,
  `job_code` varchar(16) DEFAULT NULL,
  `pending` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin DEFAULT NULL CHECK (json_valid(`pending`)),
  `trouble` varchar(500) DEFAULT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `watched_page_once` (`watch_id`,`live_id`),
  KEY `watched_page_next` (`next_at`),
  KEY `watched_page_live` (`live_id`),
  KEY `watched_page_job` (`job_code`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
