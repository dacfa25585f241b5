<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Psr\EventDispatcher\EventDispatcherInterface;
use Ypomna\App\Capture\Event\BroughtIn;
use Ypomna\App\Capture\Tags;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Desk\AlwaysTags;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\HeldWords;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\ItemTags;
use Ypomna\App\Desk\Message\CountWords;
use Ypomna\App\Desk\TagSuggestions;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Desk\Value\SuggestedTag;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

/** Which tags are offered for an item, and those that are always on. */
final class TagSuggestionTest extends ApiTestCase
{
    private const PAGE = 'http://lantern.test/a';
    private const TEXT = '<title>The bowthruster</title><p>The bowthruster of Petrel Dawn failed. A new bowthruster comes on Friday.'
        .' The stern door was shut. <a href="/x">Subscribe</a></p>';

    public function testTagsComeFromTheDossierFromThePageAndFromItsOwnWords(): void
    {
        $this->takeIn((new WarcBuilder('f'))->exchange(self::PAGE, '2024-11-03T10:00:00Z', self::TEXT));
        $capture = $this->captureOf(self::PAGE)->code;
        $dossier = self::text($this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'Stern door'], 201), 'code');
        $this->make(['title' => 'a', 'dossiers' => [$dossier], 'tags' => ['seal', 'to check']]);
        $this->make(['title' => 'b', 'dossiers' => [$dossier], 'tags' => ['to check']]);
        $this->make(['title' => 'c', 'tags' => ['stern door', 'ferry', 'Petrel']]);
        $other = $this->token('Bram Hollis', Role::Keeper);
        $this->ask('POST', '/api/items', $other, ['kind' => 'note', 'title' => 'd', 'tags' => ['friday']], 201);
        $item = $this->make(['kind' => 'capture', 'subject' => ['capture' => $capture], 'dossiers' => [$dossier], 'tags' => ['Petrel']]);
        self::assertSame([
            ['stern door', 'page'], ['to check', 'dossier'], ['seal', 'dossier'], ['bowthruster', 'words'],
        ], \array_slice($this->suggested($item), 0, 4), 'What somebody else alone uses is not told, nor what it has already.');
        self::assertNotContains('friday', array_column($this->suggested($item), 0));
        $this->signIn('Ilse Varga', Role::Keeper);
        self::assertStringContainsString('data-adds="bowthruster"', $this->get('/items/'.$item->code.'/suggestions?dossier=nothing'));
        $names = json_decode($this->get('/names/tags?q=STE'), true);
        self::assertSame([['name' => 'stern door']], $names);
        self::assertSame([], json_decode($this->get('/names/tags?q=frid'), true));
        self::assertSame([['name' => 'Stern door']], json_decode($this->get('/names/dossiers?q=door'), true));
    }

    public function testWordsArePagesTheyStandOnEachAddressOnce(): void
    {
        $this->takeIn((new WarcBuilder('f'))->exchange(self::PAGE, '2024-11-03T10:00:00Z', self::TEXT)
            ->exchange('http://lantern.test/b', '2024-11-03T11:00:00Z', '<title>B</title><p>Another bowthruster.</p>'));
        $this->takeIn((new WarcBuilder('g'))->exchange(self::PAGE, '2024-12-03T10:00:00Z', self::TEXT), 'b.warc.gz');
        $words = self::service(HeldWords::class);
        $words->countWords(new CountWords());
        $words->countWords(new CountWords());
        [$pages, $with] = $words->pagesWith(['bowthruster', 'petrel', 'the', 'nothing']);
        self::assertSame([2, ['bowthruster' => 2, 'petrel' => 1]], [$pages, $with]);
        self::assertTrue(self::service(CaptureMaintenance::class)->isFirst(
            self::number(self::service(Connection::class)->fetchOne('SELECT MIN(id) FROM capture')),
        ));
    }

    public function testTagsThatAreAlwaysOnComeToWhateverOneBringsIn(): void
    {
        $viewer = Viewer::person('Ilse Varga', Role::Keeper);
        $this->signIn('Ilse Varga', Role::Keeper);
        $this->get('/intake');
        $form = $this->client->getCrawler()->filter('.always form');
        $this->client->submit($form->form(['tags' => 'inquiry 7, to check']));
        self::assertSame(303, $this->answered());
        self::assertSame(['inquiry 7', 'to check'], self::service(AlwaysTags::class)->of('Ilse Varga'));
        self::assertSame([], self::service(AlwaysTags::class)->of('Nerys Quill'));
        self::service(EventDispatcherInterface::class)->dispatch(new BroughtIn(
            'Ilse Varga', 'file:1', 'A file', '', ['mine'], null, null, str_repeat('a', 64),
        ));
        $items = self::service(ItemRepository::class);
        $brought = $items->shown($viewer, $items->list($viewer, new ItemQuery(by: 'Ilse Varga')))[0];
        self::assertSame(['inquiry 7', 'mine', 'to check'], $brought->tags);
        $tags = self::service(Tags::class);
        $tag = $tags->byName('to check');
        $into = $tags->byName('mine');
        self::assertNotNull($tag);
        self::assertNotNull($into);
        self::service(ItemTags::class)->merge($tag, $into);
        self::assertSame(['inquiry 7', 'mine'], self::service(AlwaysTags::class)->of('Ilse Varga'));
        self::service(AlwaysTags::class)->set($viewer, []);
        self::assertSame([], self::service(AlwaysTags::class)->of('Ilse Varga'));
    }

    /** @param array<string, mixed> $values */
    private function make(array $values): Item
    {
        $made = $this->ask('POST', '/api/items', $this->keeper, $values + ['kind' => 'note'], 201);
        $item = self::service(ItemRepository::class)->byCode(Viewer::system(), self::text($made, 'code'));
        self::assertNotNull($item);

        return $item;
    }

    /** @return list<array{string, string}> */
    private function suggested(Item $item): array
    {
        return array_map(
            static fn (SuggestedTag $one): array => [$one->name, $one->why->value],
            self::service(TagSuggestions::class)->of(Viewer::person('Ilse Varga', Role::Keeper), $item),
        );
    }

    private static function number(mixed $value): int
    {
        return is_numeric($value) ? (int) $value : 0;
    }
}
