<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\Routing\RouterInterface;
use Ypomna\App\Shared\Role;

/**
 * Every route, asked in an empty installation for what is not there, or without a token: it answers as it should, and in no other way is it
 * reached. A new route has to be entered here.
 */
final class RoutesTest extends AppTestCase
{
    /** Name, method, an address of it, status for whoever may, and the right that it asks for. */
    private const TABLE = [
        ['timemap_from', 'GET', '/timemap/form/from/mark/url', 404, 'read'],
        ['compare_any', 'GET', '/compare/any', 404, 'read'],
        ['elsewhere', 'GET', '/elsewhere', 422, 'keep'],
        ['elsewhere_import', 'POST', '/elsewhere', 403, 'keep'],
        ['archives', 'GET', '/archives', 200, 'read'],
        ['archives_add', 'POST', '/archives', 403, 'keep'],
        ['archives_ask', 'POST', '/archives/222222222222', 403, 'keep'],
        ['capture_begin', 'POST', '/captures', 403, 'keep'],
        ['capture_description', 'POST', '/captures/222222222222/description', 403, 'keep'],
        ['tagged', 'GET', '/tagged/tag', 200, 'read'],
        ['capture_complete', 'POST', '/c/222222222222/complete', 404, 'keep'],
        ['captures', 'GET', '/captures', 200, 'read'],
        ['search', 'GET', '/search?q=x', 200, 'read'],
        ['address_words', 'GET', '/address/222222222222/words?q=x', 404, 'read'],
        ['search_complete', 'GET', '/search/complete?q=x', 200, 'read'],
        ['question_change', 'POST', '/search/questions', 403, 'read'],
        ['capture_finds', 'GET', '/c/222222222222/finds?q=x', 404, 'read'],
        ['capture_job', 'GET', '/captures/222222222222', 404, 'read'],
        ['capture_progress', 'GET', '/captures/222222222222/progress', 404, 'read'],
        ['lists', 'GET', '/lists', 200, 'keep'],
        ['list_look', 'POST', '/lists/look', 403, 'keep'],
        ['list_begin', 'POST', '/lists', 403, 'keep'],
        ['list', 'GET', '/lists/222222222222', 404, 'read'],
        ['list_progress', 'GET', '/lists/222222222222/progress', 404, 'read'],
        ['list_act', 'POST', '/lists/222222222222', 403, 'keep'],
        ['sites', 'GET', '/sites', 200, 'keep'],
        ['site_look', 'POST', '/sites/look', 403, 'keep'],
        ['site_begin', 'POST', '/sites', 403, 'keep'],
        ['site', 'GET', '/sites/222222222222', 404, 'read'],
        ['site_progress', 'GET', '/sites/222222222222/progress', 404, 'read'],
        ['site_act', 'POST', '/sites/222222222222', 403, 'keep'],
        ['site_report', 'GET', '/sites/222222222222/report.format', 404, 'read'],
        ['dossiers', 'GET', '/dossiers', 200, 'read'],
        ['dossier_make', 'POST', '/dossiers', 403, 'keep'],
        ['dossier', 'GET', '/dossiers/222222222222', 404, 'read'],
        ['dossier_act', 'POST', '/dossiers/222222222222', 403, 'keep'],
        ['dossier_restore', 'POST', '/dossiers/222222222222/restore', 403, 'keep'],
        ['chronology', 'GET', '/dossiers/222222222222/chronology', 404, 'read'],
        ['item', 'GET', '/items/222222222222', 404, 'read'],
        ['item_make', 'POST', '/items', 403, 'keep'],
        ['item_act', 'POST', '/items/222222222222', 404, 'keep'],
        ['item_note', 'POST', '/items/222222222222/note', 404, 'keep'],
        ['item_names', 'GET', '/names/items?q=x', 200, 'keep'],
        ['tag_names', 'GET', '/names/tags?q=x', 200, 'keep'],
        ['dossier_names', 'GET', '/names/dossiers?q=x', 200, 'keep'],
        ['item_suggestions', 'GET', '/items/222222222222/suggestions', 404, 'keep'],
        ['always_tags', 'POST', '/intake/always', 403, 'keep'],
        ['item_history', 'GET', '/items/222222222222/history', 404, 'read'],
        ['item_ties', 'GET', '/items/222222222222/ties', 404, 'read'],
        ['note_back', 'POST', '/items/222222222222/history', 404, 'keep'],
        ['item_cell', 'POST', '/items/222222222222/cell', 404, 'keep'],
        ['item_branch', 'GET', '/items/222222222222/branch', 404, 'read'],
        ['dossier_branch', 'GET', '/dossiers/222222222222/branch', 404, 'read'],
        ['collected_fields', 'GET', '/dossiers/222222222222/fields', 404, 'read'],
        ['dossier_view', 'POST', '/dossiers/222222222222/views', 403, 'keep'],
        ['desk_files', 'GET', '/desk/files', 200, 'read'],
        ['desk_items_file', 'GET', '/desk/items.json', 200, 'read'],
        ['desk_files_take', 'POST', '/desk/files', 403, 'keep'],
        ['dossier_zip', 'GET', '/dossiers/222222222222/file.zip', 404, 'read'],
        ['dossier_file', 'GET', '/dossiers/222222222222/file.json', 404, 'read'],
        ['finding_aids', 'GET', '/aids', 200, 'read'],
        ['finding_aid_make', 'POST', '/aids', 403, 'keep'],
        ['finding_aid', 'GET', '/aids/222222222222', 404, 'read'],
        ['finding_aid_ead', 'GET', '/aids/222222222222/ead.xml', 404, 'read'],
        ['finding_aid_delete', 'POST', '/aids/222222222222/delete', 403, 'keep'],
        ['attachments_add', 'POST', '/items/222222222222/attachments', 404, 'keep'],
        ['attachment', 'GET', '/attachments/222222222222', 404, 'read'],
        ['attachment_act', 'POST', '/attachments/222222222222', 403, 'keep'],
        ['recording_begin', 'POST', '/recordings', 403, 'keep'],
        ['recording_piece', 'PUT', '/recordings/222222222222/0', 403, 'keep'],
        ['recording_end', 'POST', '/recordings/222222222222/end', 403, 'keep'],
        ['note_look', 'POST', '/notes/look', 403, 'keep'],
        ['dossier_history', 'GET', '/dossiers/222222222222/history', 404, 'read'],
        ['item_restore', 'POST', '/items/222222222222/restore', 403, 'read'],
        ['items_act', 'POST', '/items/many', 403, 'keep'],
        ['undo', 'POST', '/undo/222222222222', 403, 'read'],
        ['intake', 'GET', '/intake', 200, 'keep'],
        ['intake_list', 'GET', '/intake/list', 200, 'keep'],
        ['intake_answer', 'POST', '/intake/222222222222', 404, 'keep'],
        ['glosses', 'GET', '/c/222222222222/glosses', 404, 'read'],
        ['gloss_write', 'POST', '/c/222222222222/glosses', 404, 'keep'],
        ['todos', 'GET', '/todos', 200, 'read'],
        ['todo_set', 'POST', '/todos', 403, 'keep'],
        ['tags', 'GET', '/tags', 200, 'read'],
        ['tag', 'GET', '/tags/seal', 404, 'read'],
        ['tag_act', 'POST', '/tags/seal', 403, 'keep'],
        ['tag_report', 'GET', '/tags/seal/report.csv', 404, 'read'],
        ['tag_report_pdf', 'POST', '/tags/seal/report.pdf', 403, 'read'],
        ['capture_desk', 'POST', '/c/222222222222/desk', 404, 'keep'],
        ['find', 'GET', '/find', 422, 'read'],
        ['address', 'GET', '/address/222222222222', 404, 'read'],
        ['address_join', 'POST', '/address/222222222222/join', 404, 'guard'],
        ['address_part', 'POST', '/address/222222222222/part', 403, 'guard'],
        ['compare_look', 'GET', '/compare/222222222222/222222222223/look', 404, 'read'],
        ['compare_source', 'GET', '/compare/222222222222/222222222223/source', 404, 'read'],
        ['compare_chosen', 'GET', '/compare', 422, 'read'],
        ['compare', 'GET', '/compare/222222222222/222222222223', 404, 'read'],
        ['compare_text', 'GET', '/compare/222222222222/222222222223/text', 404, 'read'],
        ['compare_since', 'GET', '/address/222222222222/since', 404, 'read'],
        ['lifelines', 'GET', '/address/222222222222/lifelines', 404, 'read'],
        ['lifeline', 'GET', '/address/222222222222/lifelines/number', 404, 'read'],
        ['similar', 'GET', '/c/222222222222/similar', 404, 'read'],
        ['hosts_matched', 'GET', '/hosts/matched', 200, 'read'],
        ['noise', 'GET', '/address/222222222222/noise', 404, 'read'],
        ['noise_file', 'GET', '/address/222222222222/noise.json', 404, 'read'],
        ['noise_set', 'POST', '/address/222222222222/noise', 404, 'keep'],
        ['noise_act', 'POST', '/noise/222222222222/end', 403, 'keep'],
        ['compare_report', 'GET', '/compare/222222222222/222222222223/report.form', 404, 'read'],
        ['capture_warc', 'GET', '/c/222222222222/warc', 404, 'read'],
        ['capture_mhtml', 'GET', '/c/222222222222/mhtml', 404, 'read'],
        ['capture_text', 'GET', '/c/222222222222/text', 404, 'read'],
        ['capture_picture', 'GET', '/c/222222222222/picture/tile', 404, 'read'],
        ['capture_thumb', 'GET', '/c/222222222222/thumb', 404, 'read'],
        ['capture_source', 'GET', '/c/222222222222/source', 404, 'read'],
        ['capture_parts', 'GET', '/c/222222222222/parts', 404, 'read'],
        ['capture_part_warc', 'GET', '/c/222222222222/parts/number/warc', 404, 'read'],
        ['capture_part_file', 'GET', '/c/222222222222/parts/number/file', 404, 'read'],
        ['export', 'GET', '/export', 200, 'keep'],
        ['export_begin', 'POST', '/export', 403, 'keep'],
        ['capture_pdf', 'POST', '/c/222222222222/pdf', 403, 'read'],
        ['compare_pdf', 'POST', '/compare/222222222222/222222222223/report.pdf', 403, 'read'],
        ['parcel', 'GET', '/export/222222222222', 404, 'read'],
        ['parcel_progress', 'GET', '/export/222222222222/progress', 404, 'read'],
        ['parcel_file', 'GET', '/export/222222222222/file/name', 404, 'read'],
        ['parcel_all', 'GET', '/export/222222222222/all', 404, 'read'],
        ['parcel_remove', 'POST', '/export/222222222222/remove', 403, 'keep'],
        ['import', 'GET', '/import', 200, 'keep'],
        ['import_report', 'GET', '/import/report', 286, 'keep'],
        ['import_form', 'POST', '/import', 403, 'keep'],
        ['import_begin', 'POST', '/import/begin', 403, 'keep'],
        ['import_piece', 'PUT', '/import/222222222222/0', 403, 'keep'],
        ['integrity', 'GET', '/integrity', 200, 'guard'],
        ['integrity_verify', 'POST', '/integrity/verify', 403, 'guard'],
        ['integrity_progress', 'GET', '/integrity/progress', 286, 'guard'],
        ['integrity_ledger', 'GET', '/integrity/ledger', 200, 'guard'],
        ['live_check', 'POST', '/live', 403, 'keep'],
        ['live', 'GET', '/live', 422, 'read'],
        ['live_progress', 'GET', '/live/progress', 422, 'read'],
        ['survival', 'GET', '/holdings/alive', 200, 'read'],
        ['survival_table', 'GET', '/holdings/alive.csv', 200, 'read'],
        ['references', 'GET', '/references', 200, 'read'],
        ['reference_begin', 'POST', '/references', 403, 'keep'],
        ['reference_list', 'GET', '/references/222222222222', 404, 'read'],
        ['reference_progress', 'GET', '/references/222222222222/progress', 404, 'read'],
        ['reference_act', 'POST', '/references/222222222222', 404, 'keep'],
        ['reference_document', 'GET', '/references/222222222222/document', 404, 'read'],
        ['reference_table', 'GET', '/references/222222222222/table.csv', 404, 'read'],
        ['reference_citations', 'GET', '/references/222222222222/citations', 404, 'read'],
        ['reference_repair', 'GET', '/references/222222222222/repair', 404, 'read'],
        ['reference_settle', 'POST', '/references/222222222222/repair', 404, 'keep'],
        ['reference_repaired', 'GET', '/references/222222222222/repaired', 404, 'read'],
        ['reference_alterations', 'GET', '/references/222222222222/alterations.csv', 404, 'read'],
        ['timegate', 'GET', '/timegate/url', 400, 'read'],
        ['timemap', 'GET', '/timemap/form/url', 404, 'read'],
        ['raw', 'GET', '/c/222222222222/raw', 404, 'read'],
        ['address_at', 'GET', '/address/222222222222/at/moment', 404, 'read'],
        ['read', 'GET', '/c/222222222222', 404, 'read'],
        ['embed', 'GET', '/c/222222222222/embed', 404, 'read'],
        ['read_bar', 'GET', '/c/222222222222/bar', 404, 'read'],
        ['read_missing', 'GET', '/c/222222222222/missing', 404, 'read'],
        ['first', 'GET', '/', 200, 'read'],
        ['keep', 'GET', '/keep', 302, 'keep'],
        ['keep_begin', 'POST', '/keep', 403, 'keep'],
        ['web_manifest', 'GET', '/manifest.webmanifest', 200, 'open'],
        ['service_worker', 'GET', '/service-worker.js', 200, 'open'],
        ['offline', 'GET', '/offline', 200, 'open'],
        ['health', 'GET', '/health', 200, 'open'],
        ['reached', 'GET', '/reached/aaaaaaaaaaaaaaaaaaaaaaaaaa', 200, 'open'],
        ['me_language', 'POST', '/me/language', 403, 'read'],
        ['favourites', 'GET', '/favourites', 200, 'read'],
        ['favourite_act', 'POST', '/favourites', 403, 'read'],
        ['events', 'GET', '/events', 200, 'read'],
        ['events_seen', 'POST', '/events', 403, 'read'],
        ['due_calendar', 'GET', '/due.ics', 200, 'read'],
        ['events_atom', 'GET', '/events.atom', 200, 'read'],
        ['watches', 'GET', '/watches', 200, 'read'],
        ['watch_begin', 'POST', '/watches', 403, 'keep'],
        ['watch_settings', 'POST', '/watches/settings', 403, 'keep'],
        ['watch', 'GET', '/watches/222222222222', 404, 'read'],
        ['watch_change', 'POST', '/watches/222222222222', 403, 'keep'],
        ['me', 'GET', '/me', 200, 'read'],
        ['me_password', 'POST', '/me/password', 403, 'read'],
        ['me_second_step', 'POST', '/me/second-step', 403, 'read'],
        ['me_second_step_code', 'GET', '/me/second-step', 302, 'read'],
        ['me_second_step_begin', 'POST', '/me/second-step/begin', 403, 'read'],
        ['me_second_step_end', 'POST', '/me/second-step/end', 403, 'read'],
        ['me_recovery', 'POST', '/me/recovery', 403, 'read'],
        ['me_zone', 'POST', '/me/zone', 403, 'read'],
        ['me_feed', 'POST', '/me/feed', 403, 'read'],
        ['me_pairing', 'POST', '/me/pairing', 403, 'keep'],
        ['me_token_end', 'POST', '/me/token', 403, 'read'],
        ['pair', 'POST', '/pair', 400, 'open'],
        ['me_sessions_end', 'POST', '/me/sessions', 403, 'read'],
        ['people', 'GET', '/people', 200, 'administer'],
        ['people_invite', 'POST', '/people/invite', 403, 'administer'],
        ['person_change', 'POST', '/people/222222222222', 403, 'administer'],
        ['people_log', 'GET', '/people/log', 200, 'administer'],
        ['people_log_csv', 'GET', '/people/log.csv', 200, 'administer'],
        ['sign_in', 'GET', '/sign-in', 302, 'open'],
        ['sign_in_try', 'POST', '/sign-in', 403, 'open'],
        ['sign_in_code', 'GET', '/sign-in/code', 302, 'open'],
        ['sign_in_code_try', 'POST', '/sign-in/code', 403, 'open'],
        ['sign_out', 'POST', '/sign-out', 403, 'read'],
        ['sign_in_forgotten', 'GET', '/sign-in/forgotten', 200, 'open'],
        ['sign_in_forgotten_ask', 'POST', '/sign-in/forgotten', 403, 'open'],
        ['sign_in_link', 'GET', '/sign-in/link/AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA', 410, 'open'],
        ['sign_in_link_use', 'POST', '/sign-in/link/AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA', 403, 'open'],
        ['sign_in_demo', 'GET', '/sign-in/demo/0000000000000000000000000000000000000000', 404, 'open'],
        ['nothing', 'GET', '/nothing/here', 404, 'read'],
        // What programs ask is tested beside their door (ApiTest).
        ['api_openapi', 'GET', '/api/openapi.json', 200, 'open'],
        ['api_page', 'GET', '/api', 200, 'open'],
        ['api_me', 'GET', '/api/me', 401, 'token'],
        ['api_capture', 'POST', '/api/captures', 401, 'token'],
        ['api_job', 'GET', '/api/jobs/222222222222', 401, 'token'],
        ['api_capture_facts', 'GET', '/api/captures/222222222222', 401, 'token'],
        ['api_capture_change', 'PATCH', '/api/captures/222222222222', 401, 'token'],
        ['api_address', 'GET', '/api/addresses', 401, 'token'],
        ['api_address_captures', 'GET', '/api/addresses/222222222222/captures', 401, 'token'],
        ['api_held', 'GET', '/api/held/00000', 401, 'token'],
        ['api_find', 'GET', '/api/find?q=x', 401, 'token'],
        ['api_address_words', 'GET', '/api/addresses/222222222222/words?q=x', 401, 'token'],
        ['api_dossiers', 'GET', '/api/dossiers', 401, 'token'],
        ['api_dossier_make', 'POST', '/api/dossiers', 401, 'token'],
        ['api_dossier', 'GET', '/api/dossiers/222222222222', 401, 'token'],
        ['api_dossier_change', 'PATCH', '/api/dossiers/222222222222', 401, 'token'],
        ['api_dossier_delete', 'DELETE', '/api/dossiers/222222222222', 401, 'token'],
        ['api_dossier_restore', 'POST', '/api/dossiers/222222222222/restore', 401, 'token'],
        ['api_dossier_captures', 'GET', '/api/dossiers/222222222222/captures', 401, 'token'],
        ['api_dossier_lay', 'POST', '/api/dossiers/222222222222/captures', 401, 'token'],
        ['api_dossier_take_out', 'DELETE', '/api/dossiers/222222222222/captures/222222222222', 401, 'token'],
        ['api_comparison', 'GET', '/api/comparisons/222222222222/222222222223', 401, 'token'],
        ['api_watches', 'GET', '/api/watches', 401, 'token'],
        ['api_watch_begin', 'POST', '/api/watches', 401, 'token'],
        ['api_watch', 'GET', '/api/watches/222222222222', 401, 'token'],
        ['api_watch_change', 'PATCH', '/api/watches/222222222222', 401, 'token'],
        ['api_events', 'GET', '/api/events', 401, 'token'],
        ['api_watch_settings', 'GET', '/api/watches/settings', 401, 'token'],
        ['api_watch_settings_change', 'PATCH', '/api/watches/settings', 401, 'token'],
        ['api_people', 'GET', '/api/people', 401, 'token'],
        ['api_person', 'GET', '/api/people/222222222222', 401, 'token'],
        ['api_person_change', 'PATCH', '/api/people/222222222222', 401, 'token'],
        ['api_invite', 'POST', '/api/people/invitations', 401, 'token'],
        ['api_people_log', 'GET', '/api/people/log', 401, 'token'],
        ['api_favourites', 'GET', '/api/favourites', 401, 'token'],
        ['api_favourite', 'PUT', '/api/favourites/dossier/222222222222', 401, 'token'],
        ['api_favourite_remove', 'DELETE', '/api/favourites/dossier/222222222222', 401, 'token'],
        ['api_reference_repair', 'PUT', '/api/references/222222222222/repairs', 401, 'token'],
        ['api_references', 'GET', '/api/references', 401, 'token'],
        ['api_reference_begin', 'POST', '/api/references', 401, 'token'],
        ['api_reference_list', 'GET', '/api/references/222222222222', 401, 'token'],
        ['api_reference_rows', 'GET', '/api/references/222222222222/rows', 401, 'token'],
        ['api_reference_check', 'POST', '/api/references/222222222222/check', 401, 'token'],
        ['api_verify', 'POST', '/api/verifications', 401, 'token'],
        ['api_verification', 'GET', '/api/verifications/latest', 401, 'token'],
        ['api_parcel_ask', 'POST', '/api/parcels', 401, 'token'],
        ['api_parcel', 'GET', '/api/parcels/222222222222', 401, 'token'],
        ['api_arrival', 'POST', '/api/arrivals', 401, 'token'],
        ['api_upload', 'POST', '/api/arrivals/upload', 401, 'token'],
        ['api_upload_offset', 'GET', '/api/arrivals/upload/222222222222', 401, 'token'],
        ['api_upload_piece', 'PATCH', '/api/arrivals/upload/222222222222', 401, 'token'],
        ['api_items', 'GET', '/api/items', 401, 'token'],
        ['api_item_make', 'POST', '/api/items', 401, 'token'],
        ['api_item', 'GET', '/api/items/222222222222', 401, 'token'],
        ['api_item_change', 'PATCH', '/api/items/222222222222', 401, 'token'],
        ['api_item_delete', 'DELETE', '/api/items/222222222222', 401, 'token'],
        ['api_item_restore', 'POST', '/api/items/222222222222/restore', 401, 'token'],
        ['api_dossier_file', 'GET', '/api/dossiers/222222222222/file', 401, 'token'],
        ['api_item_copy', 'POST', '/api/items/222222222222/copy', 401, 'token'],
        ['api_item_move', 'POST', '/api/items/222222222222/move', 401, 'token'],
        ['api_items_batch', 'POST', '/api/items/batch', 401, 'token'],
        ['api_items_json', 'GET', '/api/items.json', 401, 'token'],
        ['api_items_csv', 'GET', '/api/items.csv', 401, 'token'],
        ['api_items_import', 'POST', '/api/items/import', 401, 'token'],
        ['api_item_links', 'GET', '/api/items/222222222222/links', 401, 'token'],
        ['api_item_link_make', 'POST', '/api/items/222222222222/links', 401, 'token'],
        ['api_link', 'GET', '/api/links/222222222222', 401, 'token'],
        ['api_link_delete', 'DELETE', '/api/links/222222222222', 401, 'token'],
        ['api_link_restore', 'POST', '/api/links/222222222222/restore', 401, 'token'],
        ['api_undo', 'POST', '/api/undo/222222222222', 401, 'token'],
        ['api_tags', 'GET', '/api/tags', 401, 'token'],
        ['api_tag', 'GET', '/api/tags/seal', 401, 'token'],
        ['api_tag_change', 'PATCH', '/api/tags/seal', 401, 'token'],
        ['api_tag_merge', 'POST', '/api/tags/seal/merge', 401, 'token'],
        ['api_tag_report', 'GET', '/api/tags/seal/report', 401, 'token'],
        ['api_todos', 'GET', '/api/todos', 401, 'token'],
        ['api_todo', 'POST', '/api/todos', 401, 'token'],
        ['api_dossier_move', 'POST', '/api/dossiers/222222222222/move', 401, 'token'],
        ['api_dossier_copy', 'POST', '/api/dossiers/222222222222/copy', 401, 'token'],
        ['api_attachments', 'GET', '/api/items/222222222222/attachments', 401, 'token'],
        ['api_attachment_add', 'POST', '/api/items/222222222222/attachments', 401, 'token'],
        ['api_attachment', 'GET', '/api/attachments/222222222222', 401, 'token'],
        ['api_attachment_file', 'GET', '/api/attachments/222222222222/file', 401, 'token'],
        ['api_attachment_change', 'PATCH', '/api/attachments/222222222222', 401, 'token'],
        ['api_attachment_delete', 'DELETE', '/api/attachments/222222222222', 401, 'token'],
        ['api_attachment_restore', 'POST', '/api/attachments/222222222222/restore', 401, 'token'],
        ['api_recording_begin', 'POST', '/api/recordings', 401, 'token'],
        ['api_recording_piece', 'PATCH', '/api/recordings/222222222222', 401, 'token'],
        ['api_recording_end', 'POST', '/api/recordings/222222222222/end', 401, 'token'],
        ['api_dossier_views', 'GET', '/api/dossiers/222222222222/views', 401, 'token'],
        ['api_dossier_view_save', 'POST', '/api/dossiers/222222222222/views', 401, 'token'],
        ['api_dossier_view', 'GET', '/api/dossiers/222222222222/views/222222222222', 401, 'token'],
        ['api_dossier_view_forget', 'DELETE', '/api/dossiers/222222222222/views/222222222222', 401, 'token'],
        ['api_dossier_fields', 'GET', '/api/dossiers/222222222222/fields', 401, 'token'],
        ['api_chronology', 'GET', '/api/dossiers/222222222222/chronology', 401, 'token'],
        ['api_aids', 'GET', '/api/aids', 401, 'token'],
        ['api_aid_make', 'POST', '/api/aids', 401, 'token'],
        ['api_aid', 'GET', '/api/aids/222222222222', 401, 'token'],
        ['api_aid_ead', 'GET', '/api/aids/222222222222/ead.xml', 401, 'token'],
        ['api_aid_delete', 'DELETE', '/api/aids/222222222222', 401, 'token'],
        ['api_item_acts', 'GET', '/api/items/222222222222/acts', 401, 'token'],
        ['api_dossier_acts', 'GET', '/api/dossiers/222222222222/acts', 401, 'token'],
        ['api_note_versions', 'GET', '/api/items/222222222222/versions', 401, 'token'],
        ['api_note_version', 'GET', '/api/items/222222222222/versions/1', 401, 'token'],
        ['api_note_back', 'POST', '/api/items/222222222222/versions/1/restore', 401, 'token'],
        ['api_note_save', 'POST', '/api/items/222222222222/note', 401, 'token'],
        ['api_item_ties', 'GET', '/api/items/222222222222/ties', 401, 'token'],
        ['api_item_suggestions', 'GET', '/api/items/222222222222/suggestions', 401, 'token'],
        ['api_always_tags', 'GET', '/api/me/tags', 401, 'token'],
        ['api_always_tags_set', 'PUT', '/api/me/tags', 401, 'token'],
        ['api_dossier_zip', 'GET', '/api/dossiers/222222222222/file.zip', 401, 'token'],
        ['api_me_token_end', 'DELETE', '/api/me/token', 401, 'token'],
        ['api_nothing', 'GET', '/api/nothing', 401, 'token'],
    ];
    private const METHODS = ['GET', 'POST'];

    public function testEachAnswersAsItShould(): void
    {
        $found = [];
        foreach (self::TABLE as [$name, $method, $path, , $right]) {
            'administer' === $right ? $this->signIn('Bram Hollis', Role::Administrator) : $this->signIn('Tomas Okoye', Role::Custodian);
            $found[] = [$name, $method, $path, $this->asked($method, $path), $right];
        }
        self::assertSame(self::TABLE, $found);
    }

    public function testWhoeverHasNotSignedInIsLedToTheDoor(): void
    {
        $this->signOut();
        $closed = $open = [];
        foreach (self::TABLE as [$name, $method, $path, , $right]) {
            $status = $this->asked($method, $path);
            $isLed = ('GET' === $method ? 302 : 303) === $status && str_starts_with($this->header('Location'), '/sign-in');
            $isLed = $isLed || ('token' === $right && 401 === $status);
            if ('open' !== $right && !$isLed) {
                $open[] = $name.' '.$status;
            } elseif ('open' === $right && $isLed && 'sign_in_code' !== $name) {
                $closed[] = $name;
            }
            self::assertStringNotContainsString('Tomas Okoye', $this->body(), $name);
        }
        self::assertSame([[], []], [$open, $closed]);
    }

    #[DataProvider('roles')]
    public function testARoleReachesAsFarAsItShould(Role $role, string ...$rights): void
    {
        $this->signIn('Somebody', $role);
        $wrong = [];
        foreach (self::TABLE as [$name, $method, $path, , $right]) {
            $status = $this->asked($method, $path);
            $isRefused = 403 === $status && str_contains($this->body(), 'Your role does not allow it.');
            if (!\in_array($right, ['open', 'token'], true) && $isRefused === \in_array($right, $rights, true)) {
                $wrong[] = $name.' '.$status;
            }
        }
        self::assertSame([], $wrong);
    }

    /** @return iterable<string, list<Role|string>> */
    public static function roles(): iterable
    {
        yield 'reader' => [Role::Reader, 'read'];
        yield 'keeper' => [Role::Keeper, 'read', 'keep'];
        yield 'custodian' => [Role::Custodian, 'read', 'keep', 'guard'];
        yield 'administrator' => [Role::Administrator, 'read', 'keep', 'administer'];
    }

    public function testTheTableHasThemAll(): void
    {
        $routes = array_keys(self::service(RouterInterface::class)->getRouteCollection()->all());
        self::assertSame([], array_diff($routes, array_column(self::TABLE, 0)));
        self::assertSame([], array_diff(array_column(self::TABLE, 0), $routes));
    }

    public function testNoOtherMethodIsTaken(): void
    {
        $methods = [];
        foreach (self::TABLE as [, $method, $path]) {
            $methods[$path][] = $method;
        }
        $taken = [];
        foreach ($methods as $path => $own) {
            foreach (array_diff(self::METHODS, $own) as $method) {
                if (!\in_array($this->asked($method, $path), [404, 405, ...(str_starts_with($path, '/api') ? [401] : [])], true)) {
                    $taken[] = $method.' '.$path.': '.$this->answered();
                }
            }
        }
        self::assertSame([], $taken);
    }

    private function asked(string $method, string $path): int
    {
        ob_start();
        $this->client->request($method, $path);
        ob_end_clean();

        return $this->answered();
    }
}
