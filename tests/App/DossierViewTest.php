<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\DossierViews;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Value\DossierView;
use Ypomna\App\Desk\Value\Look;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;

/** Four ways to look at the items of a dossier. */
final class DossierViewTest extends ApiTestCase
{
    public function testItemsAreNarrowedOrderedAndShownInColumnsOfOnesOwn(): void
    {
        $dossier = $this->dossier();
        $this->make($dossier, ['title' => 'Beta', 'tags' => ['said'], 'fields' => ['date' => '2024-11~'], 'due' => '2026-12-24']);
        $this->make($dossier, ['title' => 'Alpha', 'important' => true]);
        $this->make($dossier, ['title' => 'Beta 100%', 'tags' => ['said'], 'important' => true]);
        $this->signIn('Ilse Varga', Role::Keeper);
        $path = '/dossiers/'.$dossier;
        self::assertSame(['Beta', 'Alpha', 'Beta 100%'], $this->titles($path));
        self::assertSame(['Alpha', 'Beta', 'Beta 100%'], $this->titles($path.'?order=title'));
        self::assertSame(['Beta', 'Beta 100%'], $this->titles($path.'?tag=said'));
        self::assertSame(['Beta 100%'], $this->titles($path.'?tag=said&important=1&look=wall'));
        self::assertSame(['Beta 100%'], $this->titles($path.'?words=100%25'));
        self::assertSame(['Beta'], $this->titles($path.'?due=2027-01-01'));
        self::assertSame(['Alpha', 'Beta', 'Beta 100%'], $this->titles($path.'?look=outline&order=title'));
        self::assertStringContainsString('No item of this dossier is so', $this->get($path.'?kind=recording'));
        $body = $this->get($path.'?columns[]=f.date&columns[]=kind&columns[]=nothing&columns[]=<b>');
        self::assertSame(['Title', 'date', 'Kind'], $this->heads());
        self::assertStringContainsString('2024-11~', $body);
        $this->get($path.'?look[]=x&order[]=y&tag[]=z&columns=all&due=never&kind[]=1');
        self::assertSame(200, $this->answered(), 'What says nothing is passed over.');
        $this->get($path.'?look=chronology&tag=said');
        self::assertStringContainsString('/chronology?tag=said', $this->header('Location'));
        self::assertStringContainsString('Beta', $this->get($path.'/chronology?field=date&tag=said'));
        self::assertStringNotContainsString('about 2024', $this->get($path.'/chronology?field=date&important=1'));
    }

    public function testAWayIsSavedUnderANameForOneselfOrForAll(): void
    {
        $dossier = $this->dossier(['people' => ['Nerys Quill' => 'reader']]);
        $this->make($dossier, ['title' => 'Beta', 'tags' => ['said']]);
        $this->make($dossier, ['title' => 'Alpha']);
        $this->signIn('Ilse Varga', Role::Keeper);
        $path = '/dossiers/'.$dossier;
        foreach (['Mine <i>' => false, 'For everybody' => true] as $name => $all) {
            $this->get($path.'?look=wall&tag=said&order=title');
            $form = $this->client->getCrawler()->filter('.narrow form[method=post]')->form(['name' => $name]);
            $this->client->request('POST', $path.'/views', ($all ? ['all' => '1'] : []) + $form->getPhpValues());
            self::assertSame(303, $this->answered());
        }
        $saved = $this->header('Location');
        self::assertSame(['Beta'], $this->titles($saved));
        self::assertStringContainsString('Mine &lt;i&gt;', $this->body());
        self::assertStringContainsString('class="wall"', $this->body());
        $entity = self::service(DossierRepository::class)->byCode(Viewer::system(), $dossier);
        self::assertNotNull($entity);
        $views = self::service(DossierViews::class);
        self::assertCount(1, $views->of(Viewer::person('Nerys Quill', Role::Reader), $entity));
        $this->signIn('Nerys Quill', Role::Reader);
        self::assertSame(['Beta'], $this->titles($saved));
        self::assertStringNotContainsString('Forget the way', $this->body());
        $this->signIn('Ilse Varga', Role::Keeper);
        $this->get($saved);
        $this->client->submit($this->client->getCrawler()->filter('.narrow button[value=forget]')->form());
        self::assertSame(303, $this->answered());
        self::assertSame([], $views->of(Viewer::person('Nerys Quill', Role::Reader), $entity));
        $this->client->request('POST', $path.'/views', ['_token' => 'no', 'name' => 'x']);
        self::assertSame(403, $this->answered());
    }

    public function testWhatAnAddressSaysOfAWayComesBackAsItWas(): void
    {
        foreach ([[], ['look' => 'outline', 'kind' => 'note', 'important' => '1'], ['columns' => ['f.ä b', 'by'], 'due' => '2026-12-24',
            'words' => 'a&b', 'tag' => '<i>', 'order' => 'due', 'field' => 'date']] as $query) {
            self::assertEquals($query, DossierView::of($query)->query());
        }
        self::assertSame([], DossierView::of(['columns' => []])->columns);
        self::assertSame(Look::Register, DossierView::of(['look' => "\xFF", 'words' => "\xFF\xFE"])->look);
        self::assertCount(12, DossierView::of(['columns' => array_map(static fn (int $n): string => 'f.'.$n, range(1, 50))])->columns);
    }

    public function testACellIsChangedInPlaceUnlessSomebodyWasFaster(): void
    {
        $dossier = $this->dossier(['fields' => [['name' => 'depth', 'type' => 'number']]]);
        $code = self::text($this->make($dossier, ['title' => 'Beta']), 'code');
        $this->signIn('Ilse Varga', Role::Keeper);
        $this->get('/dossiers/'.$dossier.'?columns[]=f.depth');
        $row = $this->client->getCrawler()->filter('.register tbody tr');
        $values = ['_token' => $row->attr('data-token'), 'state' => $row->attr('data-state')];
        $said = $this->cell($code, ['column' => 'title', 'value' => 'Gamma <b>'] + $values);
        self::assertStringContainsString('Gamma &lt;b&gt;', self::text($said, 'html'));
        self::assertArrayHasKey('error', $this->cell($code, ['column' => 'title', 'value' => 'Late'] + $values, 409));
        $values['state'] = self::text($said, 'state');
        foreach (['due' => 'never', 'f.depth' => 'deep', 'tags' => 'a/b', 'kind' => 'note', 'nothing' => 'x'] as $column => $value) {
            self::assertNotSame('', self::text($this->cell($code, ['column' => $column, 'value' => $value] + $values, 422), 'error'),
                $column);
        }
        foreach (['due' => '2026-12-24', 'f.depth' => '9 cm', 'tags' => 'b, a'] as $column => $value) {
            $values['state'] = self::text($this->cell($code, ['column' => $column, 'value' => $value] + $values), 'state');
        }
        $item = self::service(ItemRepository::class)->byCode(Viewer::system(), $code);
        self::assertSame(
            ['Gamma <b>', '2026-12-24', ['depth' => ['value' => 9, 'unit' => 'cm']]],
            [$item?->title, $item?->due?->format('Y-m-d'), $item?->fields],
        );
        $this->signIn('Nerys Quill', Role::Reader);
        $this->client->request('POST', '/items/'.$code.'/cell', ['column' => 'title', 'value' => 'no'] + $values);
        self::assertContains($this->answered(), [403, 404]);
    }

    public function testBranchesOfAnOutlineHoldWhatIsSeen(): void
    {
        $dossier = $this->dossier();
        $inner = self::text($this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'Inner', 'parent' => $dossier], 201), 'code');
        $above = self::text($this->make($inner, ['title' => 'Above']), 'code');
        $this->ask('POST', '/api/items', $this->keeper, ['kind' => 'note', 'title' => 'Below', 'parent' => $above], 201);
        $this->signIn('Ilse Varga', Role::Keeper);
        self::assertStringContainsString('Unfold Inner', $this->get('/dossiers/'.$dossier.'?look=outline'));
        self::assertStringContainsString('Unfold Above', $this->get('/dossiers/'.$inner.'/branch'));
        $body = $this->get('/items/'.$above.'/branch');
        self::assertStringContainsString('Below', $body);
        self::assertStringNotContainsString('Unfold', $body);
        $this->signIn('Bram Hollis', Role::Keeper);
        $this->get('/dossiers/'.$inner.'/branch');
        self::assertSame(404, $this->answered());
    }

    /** @param array<string, mixed> $more */
    private function dossier(array $more = []): string
    {
        if (isset($more['people'])) {
            $this->token('Nerys Quill', Role::Reader, [Scope::Read]);
        }

        return self::text($this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'Stern door'] + $more, 201), 'code');
    }

    /**
     * @param array<string, mixed> $values
     *
     * @return array<string, mixed>
     */
    private function make(string $dossier, array $values): array
    {
        return $this->ask('POST', '/api/items', $this->keeper, $values + ['kind' => 'note', 'dossiers' => [$dossier]], 201);
    }

    /** @return list<string> */
    private function titles(string $path): array
    {
        $this->get($path);

        return array_values($this->client->getCrawler()->filter(
            '.register .title, .wall .title, .outline a.open',
        )->each(static fn ($node): string => trim(str_replace('❧', '', $node->text()))));
    }

    /** @return list<string> */
    private function heads(): array
    {
        return array_values(array_filter($this->client->getCrawler()->filter('.register th')->each(
            static fn ($node): string => $node->filter('.sr-only')->count() > 0 ? '' : trim($node->text()),
        ), static fn (string $text): bool => '' !== $text));
    }

    /**
     * @param array<string, mixed> $values
     *
     * @return array<string, mixed>
     */
    private function cell(string $code, array $values, int $status = 200): array
    {
        $this->client->request('POST', '/items/'.$code.'/cell', $values);
        self::assertSame($status, $this->answered());
        /** @var array<string, mixed> $said */
        $said = json_decode($this->body(), true, 16, \JSON_THROW_ON_ERROR);

        return $said;
    }
}
