/*M!999999\- enable the sandbox mode */ 
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
) ENGINE=InnoDB AUTO_INCREMENT=3 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `address` VALUES (1,0x7465737421636F7276616E652D6D6172696E65202F646F776E6C6F6164732F737465726E2D7365616C2D3430302E706466,'https://corvane-marine.test/downloads/stern-seal-400.pdf','an6gj74r4d2h',1,'2024-12-14 12:00:05.532597','2024-12-14 12:00:05.532597','2024-12-14 12:00:05.532597');
INSERT INTO `address` VALUES (2,0x7465737421636F7276616E652D6D6172696E65202F70726F64756374732F737465726E2D7365616C2D343030,'https://corvane-marine.test/products/stern-seal-400','9rwt5jqrs8vu',1,'2025-10-06 12:12:01.781481','2025-10-06 12:12:01.781481','2025-10-06 12:12:01.781481');
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
) ENGINE=InnoDB AUTO_INCREMENT=3 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `capture` VALUES (1,1,'2024-12-14 12:00:05.532597','wk435ppz4gta','https://corvane-marine.test/downloads/stern-seal-400.pdf',1,1187,200,NULL,'application/pdf',2,912,0x177E5C0782392A1C209A1F83CF54CBA83D8506712140F62A1C10DC626DB26006,NULL,NULL,NULL,'Ilse Varga','rendered',NULL,0,'gaps',NULL,NULL);
INSERT INTO `capture` VALUES (2,2,'2025-10-06 12:12:01.781481','zvr9sr8dna3a','https://corvane-marine.test/products/stern-seal-400',2,1182,200,'corvane-marine.test','text/html',2,628,0xE08EF58D4FADE591E68BC5967ACB3F18BFF2EC2D3616F8CA185ADFEC3C50E83E,3283,3831,NULL,'Ilse Varga','rendered',NULL,0,NULL,NULL,NULL);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
  `phone` tinyint(1) NOT NULL DEFAULT 0,
  `without_scripts` tinyint(1) NOT NULL DEFAULT 0,
  `options` mediumtext DEFAULT NULL,
  `secrets` mediumtext DEFAULT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `job_code` (`code`),
  KEY `job_open` (`finished_at`,`id`),
  KEY `job_key` (`key_hash`,`id`),
  KEY `job_list` (`list_id`,`stage`,`id`),
  KEY `job_list_host` (`list_id`,`host`,`finished_at`)
) ENGINE=InnoDB AUTO_INCREMENT=3 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `capture_job` VALUES (1,'qbb289fvdcqg','http://lantern.test/one','waiting',NULL,NULL,0,'2026-11-30 06:59:28.471949',NULL,NULL,'Ilse Varga',0xEB0B4895EAE38AD72A971D9CE35DD697,'rendered',NULL,NULL,'',NULL,1,1,'{\"scroll\":\"no\",\"fields\":\"everywhere\",\"wait\":4,\"language\":\"el\"}',NULL);
INSERT INTO `capture_job` VALUES (2,'c29ac3p6ex72','http://lantern.test/two','done',NULL,NULL,0,'2026-11-30 06:59:28.703930','2026-11-30 06:59:29.291822','wk435ppz4gta','Ilse Varga',0x856C2D5156ED69E0136B3976DF98FA86,'plain',NULL,NULL,'',NULL,0,0,NULL,NULL);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `choice` (
  `person` varchar(190) NOT NULL,
  `choices` mediumtext NOT NULL,
  PRIMARY KEY (`person`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
) ENGINE=InnoDB AUTO_INCREMENT=2 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `crawl` VALUES (1,'vs9z4s8a2ccn','lantern.test','[\"http:\\/\\/lantern.test\\/\"]','{\"reach\":\"host\",\"depth\":null,\"includes\":[],\"excludes\":[]}','plain',1,NULL,1000,1,500,1000000000,3600,'Ilse Varga','2026-11-30 06:59:28.844074','running',NULL,1,'2026-11-30 06:59:28.844074',0,NULL,0,0,0,0,0);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `crawl_host` (
  `crawl_id` bigint(20) unsigned NOT NULL,
  `host` varchar(255) NOT NULL,
  `next_at` datetime(6) NOT NULL,
  `strain` smallint(5) unsigned NOT NULL,
  PRIMARY KEY (`crawl_id`,`host`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
) ENGINE=InnoDB AUTO_INCREMENT=3 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `crawl_page` VALUES (1,1,0x8107E62C696D29F4AB94C9FA998BF58B,'http://lantern.test/','lantern.test','page',0,'seed',NULL,NULL,'waiting',NULL,NULL,NULL,NULL,NULL,0,NULL,NULL,NULL);
INSERT INTO `crawl_page` VALUES (2,1,0x264D78375A1565A00D90C85D87168B30,'http://lantern.test/sitemap.xml','lantern.test','map',0,'map',NULL,NULL,'waiting',NULL,NULL,NULL,NULL,NULL,0,NULL,NULL,NULL);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `crawl_part` (
  `crawl_id` bigint(20) unsigned NOT NULL,
  `url_hash` binary(16) NOT NULL,
  `outcome` varchar(16) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `gaps` mediumtext DEFAULT NULL,
  PRIMARY KEY (`crawl_id`,`url_hash`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `crawl_slot` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `crawl_id` bigint(20) unsigned NOT NULL,
  `run` int(10) unsigned NOT NULL,
  `turn` int(10) unsigned NOT NULL,
  PRIMARY KEY (`id`),
  KEY `crawl_slot_crawl` (`crawl_id`)
) ENGINE=InnoDB AUTO_INCREMENT=3 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `crawl_slot` VALUES (1,1,1,0);
INSERT INTO `crawl_slot` VALUES (2,1,1,0);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `fingerprint` (
  `capture_id` bigint(20) unsigned NOT NULL,
  `hashes` varbinary(128) NOT NULL,
  PRIMARY KEY (`capture_id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `fingerprint` VALUES (1,0x664CE607E27ECE063C7A570CA45C26128CB37E057695790530528F11723F98052A9EA406ACD2D202E5E255133D45E90A1D5C76020335860DA7F32600613232212EF462055E562302FEAF71163E298C0D0822C20457B6380246F35406725C2503000366017915B1241ECA0509DFCC0D36EC8580032EFFD203B5CAE20949B0591A);
INSERT INTO `fingerprint` VALUES (2,0x39F263047DB755039EB9D616602EE14259136F2F99E3DB23F095730C25CEA3150104030191A9DB2A0A0A3F0088A5010CC6C21C06571F201346AF6D05411BE30240712510BF44F80A3BC929156096C633B9982C0127C9F20D1BFCA300D494E72FC7402904D91C9403BC13430ED744F70819047D09F7E73D02BCF21F1642F7F10D);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `fingerprint_band` (
  `band` tinyint(3) unsigned NOT NULL,
  `value` int(10) unsigned NOT NULL,
  `capture_id` bigint(20) unsigned NOT NULL,
  PRIMARY KEY (`band`,`value`,`capture_id`),
  KEY `fingerprint_band_capture` (`capture_id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `fingerprint_band` VALUES (0,1370525418,1);
INSERT INTO `fingerprint_band` VALUES (0,1909807820,2);
INSERT INTO `fingerprint_band` VALUES (1,1140980961,2);
INSERT INTO `fingerprint_band` VALUES (1,2284218083,1);
INSERT INTO `fingerprint_band` VALUES (2,415684659,1);
INSERT INTO `fingerprint_band` VALUES (2,1155499352,2);
INSERT INTO `fingerprint_band` VALUES (3,486735020,2);
INSERT INTO `fingerprint_band` VALUES (3,1222777433,1);
INSERT INTO `fingerprint_band` VALUES (4,471347763,2);
INSERT INTO `fingerprint_band` VALUES (4,4221335042,1);
INSERT INTO `fingerprint_band` VALUES (5,655643614,2);
INSERT INTO `fingerprint_band` VALUES (5,2214692391,1);
INSERT INTO `fingerprint_band` VALUES (6,2991720661,1);
INSERT INTO `fingerprint_band` VALUES (6,3344585635,2);
INSERT INTO `fingerprint_band` VALUES (7,254093044,2);
INSERT INTO `fingerprint_band` VALUES (7,3822746496,1);
INSERT INTO `fingerprint_band` VALUES (8,1754025397,2);
INSERT INTO `fingerprint_band` VALUES (8,2403340277,1);
INSERT INTO `fingerprint_band` VALUES (9,2921511131,1);
INSERT INTO `fingerprint_band` VALUES (9,3855165360,2);
INSERT INTO `fingerprint_band` VALUES (10,561466079,2);
INSERT INTO `fingerprint_band` VALUES (10,1642866198,1);
INSERT INTO `fingerprint_band` VALUES (11,3159207508,2);
INSERT INTO `fingerprint_band` VALUES (11,4120757934,1);
INSERT INTO `fingerprint_band` VALUES (12,163007999,1);
INSERT INTO `fingerprint_band` VALUES (12,3365735389,2);
INSERT INTO `fingerprint_band` VALUES (13,3087348316,1);
INSERT INTO `fingerprint_band` VALUES (13,4181174565,2);
INSERT INTO `fingerprint_band` VALUES (14,1949451542,2);
INSERT INTO `fingerprint_band` VALUES (14,3693772196,1);
INSERT INTO `fingerprint_band` VALUES (15,1009373412,2);
INSERT INTO `fingerprint_band` VALUES (15,4076253363,1);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `fingerprint_reach` (
  `id` tinyint(3) unsigned NOT NULL,
  `behind` bigint(20) unsigned NOT NULL,
  PRIMARY KEY (`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `fingerprint_reach` VALUES (1,0);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `history_summary` (
  `summary_key` binary(16) NOT NULL,
  `of` varchar(40) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `summary` mediumtext CHARACTER SET utf8mb4 COLLATE utf8mb4_general_ci NOT NULL,
  PRIMARY KEY (`summary_key`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `joined_address` (
  `address_code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `group_code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `reason` varchar(20) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  `person` varchar(190) NOT NULL,
  `joined_at` datetime(6) NOT NULL,
  PRIMARY KEY (`address_code`),
  KEY `joined_group` (`group_code`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `last_look` (
  `address_code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `capture_code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `looked_at` datetime(6) NOT NULL,
  PRIMARY KEY (`address_code`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `ledger_line` VALUES (1,0x0A14C6F90C965177E85DC81DE71A6267172B6DED9A48BAE309EB1C5CFD2CD904,'file.taken-in','taken-in/45/4570b247dece1998f67d33d71e8ce6c8d10c727f7de531a8282c9983dddf161d.warc.gz','2026-11-30 06:59:27.878539',456,'0a14c6f90c965177e85dc81de71a6267172b6ded9a48bae309eb1c5cfd2cd904 {\"seq\":1,\"at\":\"2026-11-30T06:59:27.878539Z\",\"kind\":\"file.taken-in\",\"subject\":\"taken-in/45/4570b247dece1998f67d33d71e8ce6c8d10c727f7de531a8282c9983dddf161d.warc.gz\",\"details\":{\"sha256\":\"4570b247dece1998f67d33d71e8ce6c8d10c727f7de531a8282c9983dddf161d\",\"bytes\":5097,\"name\":\"20241214T120000Z-8frdhmgbp62q.warc.gz\"},\"previous\":\"0000000000000000000000000000000000000000000000000000000000000000\"}');
INSERT INTO `ledger_line` VALUES (2,0xDD819548DD80E66D7E4A52B03ACA03B95119E45757C94AA324985040CD72FD1B,'codes.given','taken-in/45/4570b247dece1998f67d33d71e8ce6c8d10c727f7de531a8282c9983dddf161d.warc.gz','2026-11-30 06:59:27.924675',890,'dd819548dd80e66d7e4a52b03aca03b95119e45757c94aa324985040cd72fd1b {\"seq\":2,\"at\":\"2026-11-30T06:59:27.924675Z\",\"kind\":\"codes.given\",\"subject\":\"taken-in/45/4570b247dece1998f67d33d71e8ce6c8d10c727f7de531a8282c9983dddf161d.warc.gz\",\"details\":{\"captures\":{\"1187\":\"wk435ppz4gta\"},\"addresses\":{\"test!corvane-marine /downloads/stern-seal-400.pdf\":\"an6gj74r4d2h\"}},\"previous\":\"0a14c6f90c965177e85dc81de71a6267172b6ded9a48bae309eb1c5cfd2cd904\"}');
INSERT INTO `ledger_line` VALUES (3,0xBE730E6F7E48C7EF94D90858ADA9E67CB13A4ACDEA09F1ECFB36206DCC3B5886,'file.taken-in','taken-in/5d/5db336ba5515041d412a440812456abe58ebb2fe320a70f2ac04f22ecfa7f9ca.warc.gz','2026-11-30 06:59:27.999928',1347,'be730e6f7e48c7ef94d90858ada9e67cb13a4acdea09f1ecfb36206dcc3b5886 {\"seq\":3,\"at\":\"2026-11-30T06:59:27.999928Z\",\"kind\":\"file.taken-in\",\"subject\":\"taken-in/5d/5db336ba5515041d412a440812456abe58ebb2fe320a70f2ac04f22ecfa7f9ca.warc.gz\",\"details\":{\"sha256\":\"5db336ba5515041d412a440812456abe58ebb2fe320a70f2ac04f22ecfa7f9ca\",\"bytes\":22239,\"name\":\"20251006T121200Z-49w6xdkf8wmb.warc.gz\"},\"previous\":\"dd819548dd80e66d7e4a52b03aca03b95119e45757c94aa324985040cd72fd1b\"}');
INSERT INTO `ledger_line` VALUES (4,0x29FE22A4686D8ADEED2DBAB8F6E1BFD149B74E82D75F9E8AB6961E28C1D7BE44,'codes.given','taken-in/5d/5db336ba5515041d412a440812456abe58ebb2fe320a70f2ac04f22ecfa7f9ca.warc.gz','2026-11-30 06:59:28.010755',1776,'29fe22a4686d8adeed2dbab8f6e1bfd149b74e82d75f9e8ab6961e28c1d7be44 {\"seq\":4,\"at\":\"2026-11-30T06:59:28.010755Z\",\"kind\":\"codes.given\",\"subject\":\"taken-in/5d/5db336ba5515041d412a440812456abe58ebb2fe320a70f2ac04f22ecfa7f9ca.warc.gz\",\"details\":{\"captures\":{\"1182\":\"zvr9sr8dna3a\"},\"addresses\":{\"test!corvane-marine /products/stern-seal-400\":\"9rwt5jqrs8vu\"}},\"previous\":\"be730e6f7e48c7ef94d90858ada9e67cb13a4acdea09f1ecfb36206dcc3b5886\"}');
INSERT INTO `ledger_line` VALUES (5,0x893C938F2480BEAC02D575DAEE4332485E7FEB06E598D5BA11E9054067DDB5C4,'site.begun','vs9z4s8a2ccn','2026-11-30 06:59:28.876708',2217,'893c938f2480beac02d575daee4332485e7feb06e598d5ba11e9054067ddb5c4 {\"seq\":5,\"at\":\"2026-11-30T06:59:28.876708Z\",\"kind\":\"site.begun\",\"subject\":\"vs9z4s8a2ccn\",\"details\":{\"seeds\":[\"http://lantern.test/\"],\"scope\":{\"reach\":\"host\",\"depth\":null,\"includes\":[],\"excludes\":[]},\"pages\":500,\"bytes\":1000000000,\"seconds\":3600,\"how\":\"plain\",\"robots\":\"obey\",\"agent\":\"Ilse Varga\"},\"previous\":\"29fe22a4686d8adeed2dbab8f6e1bfd149b74e82d75f9e8ab6961e28c1d7be44\"}');
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `lifeline` (
  `address_id` bigint(20) unsigned NOT NULL,
  `captures` int(10) unsigned NOT NULL,
  `packed` longblob NOT NULL,
  PRIMARY KEY (`address_id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `live_address` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `url_hash` binary(16) NOT NULL,
  `key_hash` binary(16) NOT NULL,
  `url` text NOT NULL,
  `host` varchar(255) NOT NULL,
  `looks` int(10) unsigned NOT NULL DEFAULT 0,
  `verdict` varchar(12) DEFAULT NULL,
  `reason` varchar(16) DEFAULT NULL,
  `is_final` tinyint(1) NOT NULL DEFAULT 0,
  `confidence` float DEFAULT NULL,
  `since` datetime(6) DEFAULT NULL,
  `seen_at` datetime(6) DEFAULT NULL,
  `looked_at` datetime(6) DEFAULT NULL,
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
) ENGINE=InnoDB AUTO_INCREMENT=3 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `live_address` VALUES (1,0xEECC23521B981C39FA3C8877FC099DD8,0x9D7D29D2FBCC39E36DBD174E1DBE213D,'http://www.saltmarsh-ferries.test/fares','www.saltmarsh-ferries.test',0,NULL,NULL,0,NULL,NULL,NULL,NULL,NULL,'2026-11-30 06:59:28.267082',NULL,0,NULL,NULL);
INSERT INTO `live_address` VALUES (2,0x7E7750EEDFC5EA18EF17F477209F4966,0x410E42D1A5A774A7BC810A6AA88266F7,'https://lantern.test/a','lantern.test',0,NULL,NULL,0,NULL,NULL,NULL,NULL,NULL,'2026-11-30 06:59:28.267082',NULL,0,NULL,NULL);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `live_look` (
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
  UNIQUE KEY `live_look_id` (`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `migration` (
  `version` varchar(191) NOT NULL,
  `executed_at` datetime DEFAULT NULL,
  `execution_time` int(11) DEFAULT NULL,
  PRIMARY KEY (`version`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261124000000','2026-11-30 06:59:16',14);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261125000000','2026-11-30 06:59:16',3);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261125120000','2026-11-30 06:59:16',1);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261125220000','2026-11-30 06:59:16',1);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261125230000','2026-11-30 06:59:16',2);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261125233000','2026-11-30 06:59:16',11);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261125234000','2026-11-30 06:59:16',1);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261125235000','2026-11-30 06:59:16',8);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261126010000','2026-11-30 06:59:16',1);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261126020000','2026-11-30 06:59:16',1);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261126030000','2026-11-30 06:59:16',9);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261126040000','2026-11-30 06:59:16',6);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261126050000','2026-11-30 06:59:16',2);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261126060000','2026-11-30 06:59:16',8);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261126070000','2026-11-30 06:59:16',5);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261126080000','2026-11-30 06:59:16',3);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261126090000','2026-11-30 06:59:16',4);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261126100000','2026-11-30 06:59:16',1);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261126110000','2026-11-30 06:59:16',5);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261126120000','2026-11-30 06:59:16',2);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261126130000','2026-11-30 06:59:16',5);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261129000000','2026-11-30 06:59:16',1);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261129010000','2026-11-30 06:59:16',1);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261129020000','2026-11-30 06:59:16',4);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261129030000','2026-11-30 06:59:16',1);
INSERT INTO `migration` VALUES ('Ypomna\\Migrations\\Version20261130010000','2026-11-30 06:59:16',7);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
  PRIMARY KEY (`id`),
  UNIQUE KEY `parcel_code` (`code`),
  KEY `parcel_state` (`state`,`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
) ENGINE=InnoDB AUTO_INCREMENT=8 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `queue_message` VALUES (1,'{\"message\":\"Ypomna\\\\App\\\\Reference\\\\LookAround\",\"with\":{},\"retried\":0}','[]','2026-11-30 06:59:28.277392',NULL,NULL,0);
INSERT INTO `queue_message` VALUES (2,'{\"message\":\"Ypomna\\\\App\\\\Reference\\\\MatchReferences\",\"with\":{\"listId\":1,\"after\":0,\"elsewhere\":false},\"retried\":0}','[]','2026-11-30 06:59:28.278491',NULL,NULL,0);
INSERT INTO `queue_message` VALUES (3,'{\"message\":\"Ypomna\\\\App\\\\Capture\\\\KeepPage\",\"with\":{\"jobId\":1},\"retried\":0}','[]','2026-11-30 06:59:28.490932',NULL,NULL,0);
INSERT INTO `queue_message` VALUES (4,'{\"message\":\"Ypomna\\\\App\\\\Capture\\\\KeepPage\",\"with\":{\"jobId\":2},\"retried\":0}','[]','2026-11-30 06:59:28.724379',NULL,NULL,0);
INSERT INTO `queue_message` VALUES (5,'{\"message\":\"Ypomna\\\\App\\\\Capture\\\\Sites\\\\WorkCrawl\",\"with\":{\"slotId\":1,\"turn\":0},\"retried\":0}','[]','2026-11-30 06:59:28.874341',NULL,NULL,0);
INSERT INTO `queue_message` VALUES (6,'{\"message\":\"Ypomna\\\\App\\\\Capture\\\\Sites\\\\WorkCrawl\",\"with\":{\"slotId\":2,\"turn\":0},\"retried\":0}','[]','2026-11-30 06:59:28.875987',NULL,NULL,0);
INSERT INTO `queue_message` VALUES (7,'{\"message\":\"Ypomna\\\\App\\\\Custody\\\\TakeInFile\",\"with\":{\"arrivalId\":1},\"retried\":0}','[]','2026-11-30 06:59:29.292526',NULL,NULL,0);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `record` VALUES (1,1187,'answer',0xA3345BEAB6B38C353EB94EAE6F7C8F1C,0x7605360A1CBA4A7170F497F580C93893,'2024-12-14 12:00:05.532597','GET',200,'application/pdf',814,0x177E5C0782392A1C209A1F83CF54CBA83D8506712140F62A1C10DC626DB26006,'https://corvane-marine.test/downloads/stern-seal-400.pdf',0x02171873DA64C10E,0,NULL,0);
INSERT INTO `record` VALUES (1,2793,'answer',0x30C6FE1A7F4B169F2426152686E7F139,0x93A0BE5B95BC5DA40274A7C15CDAD71D,'2024-12-14 12:00:05.690696','GET',404,'text/html',372,0xCE5D24B52B46F695D4AC746ABB7A0839D18879F715DFE9E658B4EAD01ED10448,'https://corvane-marine.test/favicon.ico',0x5EABCD94A8820B05,0,NULL,0);
INSERT INTO `record` VALUES (2,1182,'answer',0xBE8E1ECC40202E337D89775BF71AB292,0xAE09C7BFA183E3EA8D0CA46A46EB7ED3,'2025-10-06 12:12:01.781481','GET',200,'text/html',431,0xE08EF58D4FADE591E68BC5967ACB3F18BFF2EC2D3616F8CA185ADFEC3C50E83E,'https://corvane-marine.test/products/stern-seal-400',0xD206A5C1B15443F0,0,NULL,0);
INSERT INTO `record` VALUES (2,2619,'answer',0x30C6FE1A7F4B169F2426152686E7F139,0x93A0BE5B95BC5DA40274A7C15CDAD71D,'2025-10-06 12:12:02.078526','GET',200,'text/html',431,0xE08EF58D4FADE591E68BC5967ACB3F18BFF2EC2D3616F8CA185ADFEC3C50E83E,'https://corvane-marine.test/favicon.ico',0xC0AE97EF8629DCD0,0,NULL,0);
INSERT INTO `record` VALUES (2,3283,'dom',0xBE8E1ECC40202E337D89775BF71AB292,0xAE09C7BFA183E3EA8D0CA46A46EB7ED3,'2025-10-06 12:12:01.781481','GET',200,'text/html',314,0xE08EF58D4FADE591E68BC5967ACB3F18BFF2EC2D3616F8CA185ADFEC3C50E83E,'https://corvane-marine.test/products/stern-seal-400',0x63C3B373E47BC302,0,NULL,0);
INSERT INTO `record` VALUES (2,3831,'text',0xBE8E1ECC40202E337D89775BF71AB292,0xAE09C7BFA183E3EA8D0CA46A46EB7ED3,'2025-10-06 12:12:01.781481','GET',200,'text/plain',131,0x0973B9AC50A035181AED153B9D4635CD3EC27A12E5720D5429293EE4B09687D9,'https://corvane-marine.test/products/stern-seal-400',0x7CF7E1EE9C797ED7,0,NULL,0);
INSERT INTO `record` VALUES (2,4280,'picture',0xBE8E1ECC40202E337D89775BF71AB292,0xAE09C7BFA183E3EA8D0CA46A46EB7ED3,'2025-10-06 12:12:01.781481','GET',200,'image/png',20999,0x6AC4591EC13BB06E5D377C55967AA231FD5556E212B790517CD7D583E07EC1D0,'https://corvane-marine.test/products/stern-seal-400',0x7590A76FD8B2C284,0,NULL,0);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
) ENGINE=InnoDB AUTO_INCREMENT=3 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `reference` VALUES (1,1,1,1,'http://www.saltmarsh-ferries.test/fares',NULL,'http://www.saltmarsh-ferries.test/fares','See http://www.saltmarsh-ferries.test/fares and https://lantern.test/a (accessed 3 March 2025).','',NULL,'[]','{\"kind\":\"bare\",\"at\":4,\"length\":39,\"end\":43}',NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO `reference` VALUES (2,1,2,2,'https://lantern.test/a',NULL,'https://lantern.test/a','See http://www.saltmarsh-ferries.test/fares and https://lantern.test/a (accessed 3 March 2025).','','2025-03-03','[]','{\"kind\":\"bare\",\"at\":48,\"length\":22,\"end\":70}',NULL,NULL,NULL,NULL,NULL,NULL,NULL);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
) ENGINE=InnoDB AUTO_INCREMENT=2 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `reference_list` VALUES (1,'sk7rwfej7da2','draft.md','markdown','draft.md',96,0x4F3432FFDB6CAC834AFA469D94093D0BA72CF429CCDE6CB1C3118C120C5E208B,'Ilse Varga','2026-11-30 06:59:28.226086','2026-11-30 06:59:28.265717',0,NULL,NULL,NULL);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `slip` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `job_id` bigint(20) unsigned DEFAULT NULL,
  `capture_code` varchar(16) CHARACTER SET ascii COLLATE ascii_bin DEFAULT NULL,
  `title` varchar(500) NOT NULL,
  `why` text NOT NULL,
  `person` varchar(190) NOT NULL,
  `written_at` datetime(6) NOT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `slip_job` (`job_id`),
  UNIQUE KEY `slip_capture` (`capture_code`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `slip_tag` (
  `slip_id` bigint(20) unsigned NOT NULL,
  `tag_id` bigint(20) unsigned NOT NULL,
  PRIMARY KEY (`slip_id`,`tag_id`),
  KEY `slip_tag_tag` (`tag_id`,`slip_id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `tag` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `name` varchar(100) NOT NULL,
  `last_at` datetime(6) NOT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `tag_name` (`name`),
  KEY `tag_last` (`last_at`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
) ENGINE=InnoDB AUTO_INCREMENT=2 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `verification` VALUES (1,'pvxvnukg75jy','2026-11-30 06:59:29.203608','2026-11-30 06:59:29.259850',2,2,15,5,'[]');
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
) ENGINE=InnoDB AUTO_INCREMENT=3 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `warc_file` VALUES (1,'taken-in/45/4570b247dece1998f67d33d71e8ce6c8d10c727f7de531a8282c9983dddf161d.warc.gz',0x4570B247DECE1998F67D33D71E8CE6C8D10C727F7DE531A8282C9983DDDF161D,5097,'taken-in','20241214T120000Z-8frdhmgbp62q.warc.gz','2026-11-30 06:59:27.878539',6);
INSERT INTO `warc_file` VALUES (2,'taken-in/5d/5db336ba5515041d412a440812456abe58ebb2fe320a70f2ac04f22ecfa7f9ca.warc.gz',0x5DB336BA5515041D412A440812456ABE58EBB2FE320A70F2AC04F22ECFA7F9CA,22239,'taken-in','20251006T121200Z-49w6xdkf8wmb.warc.gz','2026-11-30 06:59:27.999928',9);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
/*!40101 SET character_set_client = @saved_cs_client */;
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
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
/*!40101 SET character_set_client = @saved_cs_client */;
INSERT INTO `watch_setting` VALUES (1,500,0,NULL,'','08:00','','','UTC',NULL);
/*!40101 SET @saved_cs_client     = @@character_set_client */;
/*!40101 SET character_set_client = utf8mb4 */;
CREATE TABLE `watched_page` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `watch_id` bigint(20) unsigned NOT NULL,
  `live_id` bigint(20) unsigned NOT NULL,
  `next_at` datetime(6) NOT NULL,
  `interval_days` double NOT NULL,
  `looked_at` datetime(6) DEFAULT NULL,
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
/*!40101 SET character_set_client = @saved_cs_client */;
