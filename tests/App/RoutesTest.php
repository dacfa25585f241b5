<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Symfony\Component\Routing\RouterInterface;

/**
 * Every route, asked in an empty installation for what is not there, or without a token: it answers as it should, and in no other way is it
 * reached. A new route has to be entered here.
 */
final class RoutesTest extends AppTestCase
{
    /** Name, method, an address of it, status. */
    private const TABLE = [
        ['timemap_from', 'GET', '/timemap/form/from/mark/url', 404],
        ['compare_any', 'GET', '/compare/any', 404],
        ['elsewhere', 'GET', '/elsewhere', 422],
        ['elsewhere_import', 'POST', '/elsewhere', 403],
        ['archives', 'GET', '/archives', 200],
        ['archives_add', 'POST', '/archives', 403],
        ['archives_ask', 'POST', '/archives/222222222222', 403],
        ['capture_begin', 'POST', '/captures', 403],
        ['capture_description', 'POST', '/captures/222222222222/description', 403],
        ['tagged', 'GET', '/tagged/tag', 200],
        ['capture_complete', 'POST', '/c/222222222222/complete', 404],
        ['captures', 'GET', '/captures', 200],
        ['capture_job', 'GET', '/captures/222222222222', 404],
        ['capture_progress', 'GET', '/captures/222222222222/progress', 404],
        ['lists', 'GET', '/lists', 200],
        ['list_look', 'POST', '/lists/look', 403],
        ['list_begin', 'POST', '/lists', 403],
        ['list', 'GET', '/lists/222222222222', 404],
        ['list_progress', 'GET', '/lists/222222222222/progress', 404],
        ['list_act', 'POST', '/lists/222222222222', 403],
        ['sites', 'GET', '/sites', 200],
        ['site_look', 'POST', '/sites/look', 403],
        ['site_begin', 'POST', '/sites', 403],
        ['site', 'GET', '/sites/222222222222', 404],
        ['site_progress', 'GET', '/sites/222222222222/progress', 404],
        ['site_act', 'POST', '/sites/222222222222', 403],
        ['site_report', 'GET', '/sites/222222222222/report.format', 404],
        ['find', 'GET', '/find', 422],
        ['address', 'GET', '/address/222222222222', 404],
        ['address_join', 'POST', '/address/222222222222/join', 404],
        ['address_part', 'POST', '/address/222222222222/part', 403],
        ['compare_look', 'GET', '/compare/222222222222/222222222223/look', 404],
        ['compare_source', 'GET', '/compare/222222222222/222222222223/source', 404],
        ['compare_chosen', 'GET', '/compare', 422],
        ['compare', 'GET', '/compare/222222222222/222222222223', 404],
        ['compare_text', 'GET', '/compare/222222222222/222222222223/text', 404],
        ['compare_since', 'GET', '/address/222222222222/since', 404],
        ['lifelines', 'GET', '/address/222222222222/lifelines', 404],
        ['lifeline', 'GET', '/address/222222222222/lifelines/number', 404],
        ['similar', 'GET', '/c/222222222222/similar', 404],
        ['hosts_matched', 'GET', '/hosts/matched', 200],
        ['noise', 'GET', '/address/222222222222/noise', 404],
        ['noise_file', 'GET', '/address/222222222222/noise.json', 404],
        ['noise_set', 'POST', '/address/222222222222/noise', 404],
        ['noise_act', 'POST', '/noise/222222222222/act', 404],
        ['compare_report', 'GET', '/compare/222222222222/222222222223/report.form', 404],
        ['capture_warc', 'GET', '/c/222222222222/warc', 404],
        ['capture_mhtml', 'GET', '/c/222222222222/mhtml', 404],
        ['capture_text', 'GET', '/c/222222222222/text', 404],
        ['capture_picture', 'GET', '/c/222222222222/picture/tile', 404],
        ['capture_thumb', 'GET', '/c/222222222222/thumb', 404],
        ['capture_source', 'GET', '/c/222222222222/source', 404],
        ['capture_parts', 'GET', '/c/222222222222/parts', 404],
        ['capture_part_warc', 'GET', '/c/222222222222/parts/number/warc', 404],
        ['capture_part_file', 'GET', '/c/222222222222/parts/number/file', 404],
        ['export', 'GET', '/export', 200],
        ['export_begin', 'POST', '/export', 403],
        ['capture_pdf', 'POST', '/c/222222222222/pdf', 403],
        ['compare_pdf', 'POST', '/compare/222222222222/222222222223/report.pdf', 403],
        ['parcel', 'GET', '/export/222222222222', 404],
        ['parcel_progress', 'GET', '/export/222222222222/progress', 404],
        ['parcel_file', 'GET', '/export/222222222222/file/name', 404],
        ['parcel_all', 'GET', '/export/222222222222/all', 404],
        ['parcel_remove', 'POST', '/export/222222222222/remove', 403],
        ['import', 'GET', '/import', 200],
        ['import_report', 'GET', '/import/report', 286],
        ['import_form', 'POST', '/import', 403],
        ['import_begin', 'POST', '/import/begin', 403],
        ['import_piece', 'PUT', '/import/222222222222/at', 404],
        ['integrity', 'GET', '/integrity', 200],
        ['integrity_verify', 'POST', '/integrity/verify', 403],
        ['integrity_progress', 'GET', '/integrity/progress', 286],
        ['integrity_ledger', 'GET', '/integrity/ledger', 200],
        ['live_check', 'POST', '/live', 403],
        ['live', 'GET', '/live', 422],
        ['live_progress', 'GET', '/live/progress', 422],
        ['survival', 'GET', '/holdings/alive', 200],
        ['survival_table', 'GET', '/holdings/alive.csv', 200],
        ['references', 'GET', '/references', 200],
        ['reference_begin', 'POST', '/references', 403],
        ['reference_list', 'GET', '/references/222222222222', 404],
        ['reference_progress', 'GET', '/references/222222222222/progress', 404],
        ['reference_act', 'POST', '/references/222222222222', 404],
        ['reference_document', 'GET', '/references/222222222222/document', 404],
        ['reference_table', 'GET', '/references/222222222222/table.csv', 404],
        ['reference_citations', 'GET', '/references/222222222222/citations', 404],
        ['reference_repair', 'GET', '/references/222222222222/repair', 404],
        ['reference_settle', 'POST', '/references/222222222222/repair', 404],
        ['reference_repaired', 'GET', '/references/222222222222/repaired', 404],
        ['reference_alterations', 'GET', '/references/222222222222/alterations.csv', 404],
        ['timegate', 'GET', '/timegate/url', 400],
        ['timemap', 'GET', '/timemap/form/url', 404],
        ['raw', 'GET', '/c/222222222222/raw', 404],
        ['address_at', 'GET', '/address/222222222222/at/moment', 404],
        ['read', 'GET', '/c/222222222222', 404],
        ['embed', 'GET', '/c/222222222222/embed', 404],
        ['read_bar', 'GET', '/c/222222222222/bar', 404],
        ['read_missing', 'GET', '/c/222222222222/missing', 404],
        ['first', 'GET', '/', 200],
        ['health', 'GET', '/health', 200],
        ['events', 'GET', '/events', 200],
        ['events_seen', 'POST', '/events', 403],
        ['events_atom', 'GET', '/events.atom', 200],
        ['watches', 'GET', '/watches', 200],
        ['watch_begin', 'POST', '/watches', 403],
        ['watch_settings', 'POST', '/watches/settings', 403],
        ['watch', 'GET', '/watches/222222222222', 404],
        ['watch_change', 'POST', '/watches/222222222222', 403],
    ];
    private const METHODS = ['GET', 'POST'];

    public function testEachAnswersAsItShould(): void
    {
        $found = [];
        foreach (self::TABLE as [$name, $method, $path]) {
            $found[] = [$name, $method, $path, $this->asked($method, $path)];
        }
        self::assertSame(self::TABLE, $found);
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
                if (!\in_array($this->asked($method, $path), [404, 405], true)) {
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
