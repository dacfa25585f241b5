<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Ypomna\App\Shared\Role;

/** What the fields of a dossier's items say together. */
final class CollectedFieldsTest extends ApiTestCase
{
    public function testPersonsNumbersAndPlacesAreCollectedAsFarAsTheyAreSeen(): void
    {
        $dossier = self::text($this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'Stern door', 'fields' => [
            ['name' => 'who', 'type' => 'person'], ['name' => 'gap', 'type' => 'number'], ['name' => 'place', 'type' => 'place'],
            ['name' => 'day', 'type' => 'date'],
        ]], 201), 'code');
        $inner = self::text($this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'Inner', 'parent' => $dossier], 201), 'code');
        foreach ([
            [$dossier, ['who' => 'Edda Marlow', 'gap' => ['value' => 9, 'unit' => 'cm'], 'day' => '2024-11']],
            [$inner, ['who' => 'edda marlow', 'gap' => ['value' => 0.5, 'unit' => 'm'],
                'place' => ['name' => '<b>Quay</b>', 'latitude' => 54.3,
                    'longitude' => -20.1]]],
            [$inner, ['who' => 'The mate', 'gap' => ['value' => 11, 'unit' => 'cm'], 'place' => ['name' => 'Nowhere']]],
        ] as [$into, $fields]) {
            $this->ask('POST', '/api/items', $this->keeper, [
                'kind' => 'note', 'title' => 'Of it', 'dossiers' => [$into], 'fields' => $fields,
            ], 201);
        }
        $this->signIn('Ilse Varga', Role::Keeper);
        $this->get('/dossiers/'.$dossier.'/fields');
        $page = $this->client->getCrawler();
        self::assertSame(
            ['who', 'gap', 'place', 'day'], $page->filter('.collected h2 bdi')->each(static fn ($node): string => $node->text()),
        );
        self::assertSame(['cm others are converted', '3', '9', '11', '50', '70'], $page->filter('.collected table tbody td')->each(
            static fn ($node): string => trim((string) preg_replace('/\s+/', ' ', $node->text())),
        ));
        $values = $page->filter('.collected li > bdi')->each(static fn ($node): string => $node->text());
        self::assertSame(['Edda Marlow', 'The mate', '0.5 m', '11 cm', '9 cm'], \array_slice($values, 0, 5));
        self::assertCount(1, $page->filter('.map circle'));
        self::assertSame('-20.1', $page->filter('.map circle')->attr('cx'));
        self::assertSame('-54.3', $page->filter('.map circle')->attr('cy'));
        self::assertStringContainsString('&lt;b&gt;Quay', $this->body());
        self::assertStringContainsString('geo:54.3,-20.1', $this->body());
        $this->signIn('Bram Hollis', Role::Keeper);
        $this->get('/dossiers/'.$dossier.'/fields');
        self::assertSame(404, $this->answered());
    }
}
