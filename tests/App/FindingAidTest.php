<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;

/** Lists of contents with descriptions, living and fixed. */
final class FindingAidTest extends ApiTestCase
{
    public function testALivingOneListsWhatThereIsAndAFixedOneWhatThereWas(): void
    {
        [$dossier, $item] = $this->things();
        $this->signIn('Ilse Varga', Role::Keeper);
        $living = $this->aid(['of' => $dossier, 'title' => 'What is held <b>', 'note' => '# Of the *door*']);
        $fixed = $this->aid(['of' => $dossier, 'title' => 'As it was', 'manner' => 'fixed']);
        $items = self::service(Items::class);
        $items->change(new Actor('Ilse Varga'), Viewer::system(), [$this->item($item)], new ItemChange('Another title'));
        $body = $this->get($living);
        self::assertStringContainsString('What is held &lt;b&gt;', $body);
        self::assertStringContainsString('<em>door</em>', $body);
        self::assertStringContainsString('Another title', $body);
        self::assertStringContainsString('Stern door › Inner', $body);
        self::assertStringContainsString('/items/'.$item, $body);
        self::assertStringContainsString('who: Edda Marlow', strip_tags($body));
        $body = $this->get($fixed);
        self::assertStringContainsString('The first title', $body);
        self::assertStringNotContainsString('Another title', $body);
        self::assertMatchesRegularExpression('~SHA-256 <code>[0-9a-f]{64}</code>~', $body);
        $items->delete(new Actor('Ilse Varga'), $this->item($item));
        self::assertStringNotContainsString('Another title', $this->get($living));
        self::assertStringContainsString('The first title', $this->get($fixed), 'What was deleted since stands in it.');
        self::assertStringContainsString('As it was', $this->get('/dossiers/'.$dossier));
        self::assertStringContainsString('As it was', $this->get('/aids'));
        // It goes only when that is confirmed.
        $this->get($fixed);
        $this->client->submit($this->client->getCrawler()->filter('form[action$="/delete"]')->form());
        self::assertSame(200, $this->answered());
        self::assertStringContainsString('goes for good', $this->body());
        $this->client->submit($this->client->getCrawler()->filter('main form')->form());
        $this->get($fixed);
        self::assertSame(404, $this->answered());
    }

    public function testWhatAReaderMayNotSeeIsNotNamed(): void
    {
        $this->token('Nerys Quill', Role::Reader, [Scope::Read]);
        [$dossier, $item, $other] = $this->things(['people' => ['Nerys Quill' => 'reader']]);
        $this->signIn('Ilse Varga', Role::Keeper);
        $fixed = $this->aid(['of' => $dossier, 'title' => 'As it was', 'manner' => 'fixed']);
        $chosen = $this->aid(['codes' => [$item, $other], 'title' => 'Chosen']);
        self::service(Items::class)->change(
            new Actor('Ilse Varga'), Viewer::system(), [$this->item($item)], new ItemChange(confidential: true, dossiers: []),
        );
        self::assertStringContainsString('The first title', $this->get($fixed));
        $this->signIn('Nerys Quill', Role::Reader);
        $body = $this->get($fixed);
        self::assertStringNotContainsString('The first title', $body);
        self::assertStringContainsString('The second title', $body);
        self::assertStringContainsString('One entry is not for you', $body);
        self::assertStringNotContainsString('The first title', $this->get($fixed.'/ead.xml'));
        $this->get($chosen);
        self::assertSame(404, $this->answered(), 'Not all of the chosen ones are seen.');
        $this->signIn('Bram Hollis', Role::Keeper);
        $this->get($fixed);
        self::assertSame(404, $this->answered());
    }

    public function testItIsEncodedAsArchivistsReadIt(): void
    {
        [$dossier, $item] = $this->things();
        $this->signIn('Ilse Varga', Role::Keeper);
        $path = $this->aid(['of' => $dossier, 'title' => 'What is "held" & where', 'note' => "A \u{B} note"]);
        $this->client->request('GET', $path.'/ead.xml');
        $xml = new \SimpleXMLElement($this->client->getInternalResponse()->getContent());
        $xml->registerXPathNamespace('e', 'http://ead3.archivists.org/schema/');
        $all = static fn (string $path): array => array_map(strval(...), (array) $xml->xpath($path));
        self::assertSame(['What is "held" & where'], $all('/e:ead/e:control/e:filedesc/e:titlestmt/e:titleproper'));
        self::assertSame(['A  note'], $all('//e:archdesc/e:scopecontent/e:p'));
        self::assertSame(['Stern door', 'Stern door › Inner'], $all('//e:c[@level="file"]/e:did/e:unittitle'));
        self::assertSame(['The second title'], $all('//e:c[@level="file"][1]/e:c[@level="item"]/e:did/e:unittitle'));
        self::assertSame(['The first title'], $all('//e:c[@level="file"][2]/e:c[@level="item"]/e:did/e:unittitle'));
        self::assertStringEndsWith('/items/'.$item, $all('//e:c[@level="file"][2]/e:c/e:did/e:unitid')[0] ?? '');
        self::assertSame(['said'], $all('//e:controlaccess/e:subject/e:part'));
        foreach ([['of' => $dossier, 'title' => ' '], ['codes' => [], 'title' => 'x']] as $values) {
            $this->client->request('POST', '/aids', $values + ['_token' => $this->formToken($dossier)]);
            self::assertSame(422, $this->answered());
        }
    }

    /**
     * @param array<string, mixed> $more
     *
     * @return array{string, string, string}
     */
    private function things(array $more = []): array
    {
        $dossier = self::text($this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'Stern door'] + $more, 201), 'code');
        $inner = self::text($this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'Inner', 'parent' => $dossier], 201), 'code');

        return [$dossier, $this->make('The first title', $inner, ['fields' => ['who' => 'Edda Marlow'], 'tags' => ['said']]),
            $this->make('The second title', $dossier)];
    }

    /** @param array<string, mixed> $values */
    private function make(string $title, string $into, array $values = []): string
    {
        return self::text($this->ask('POST', '/api/items', $this->keeper, [
            'kind' => 'note', 'title' => $title, 'dossiers' => [$into],
        ] + $values, 201), 'code');
    }

    private function item(string $code): Item
    {
        $item = self::service(ItemRepository::class)->byCode(Viewer::system(), $code);
        self::assertNotNull($item);

        return $item;
    }

    /**
     * @param array<string, mixed> $values
     *
     * @return string its path
     */
    private function aid(array $values): string
    {
        $this->client->request('POST', '/aids',
            $values + ['_token' => $this->formToken(\is_string($values['of'] ?? null) ? $values['of'] : '')]);
        self::assertSame(303, $this->answered());

        return $this->header('Location');
    }

    private function formToken(string $dossier): string
    {
        $this->get('' === $dossier ? '/references' : '/dossiers/'.$dossier);

        return (string) $this->client->getCrawler()->filter('#quick-note [name=_token]')->attr('value');
    }
}
