<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Ties;
use Ypomna\App\Desk\Value\Knot;
use Ypomna\App\Desk\Value\Tie;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

/** The picture of what hangs together around an item. */
final class TiesTest extends ApiTestCase
{
    private const PAGE = 'http://lantern.test/a';

    public function testLinksNotesAndWhatLiesUnderAreDrawnTwoStepsFarAsFarAsTheyAreSeen(): void
    {
        $this->takeIn((new WarcBuilder('f'))->exchange(self::PAGE, '2024-11-03T10:00:00Z', '<title>Petrel Dawn</title><p>x</p>'));
        $capture = $this->captureOf(self::PAGE)->code;
        [$middle, $seal, $log, $far, $beyond] = array_map(
            fn (string $title): string => $this->make(['title' => $title]), ['Middle <b>', 'Seal', 'Log', 'Far', 'Beyond'],
        );
        $about = $this->make(['kind' => 'capture', 'subject' => ['capture' => $capture], 'title' => 'About the page']);
        $under = $this->make(['title' => 'Under it', 'parent' => $middle]);
        $this->link($middle, $seal, 'look there');
        $this->link($log, $middle);
        $this->link($seal, $far);
        $this->link($far, $beyond);
        $this->link($middle, $capture);
        $named = $this->make(['title' => 'Names it', 'note' => 'See [this](/items/'.$middle.').']);
        $other = $this->token('Bram Hollis', Role::Keeper);
        $hidden = self::text($this->ask('POST', '/api/items', $other, [
            'kind' => 'note', 'title' => 'Of somebody else', 'note' => '[x](/items/'.$middle.')',
        ], 201), 'code');
        $item = self::service(ItemRepository::class)->byCode(Viewer::system(), $middle);
        self::assertNotNull($item);
        [$knots, $ties, $isMore] = self::service(Ties::class)->around(Viewer::person('Ilse Varga', Role::Keeper), $item);
        $columns = [];
        foreach ($knots as $knot) {
            $columns[$knot->code] = $knot->column;
        }
        self::assertFalse($isMore);
        self::assertEquals([
            $middle => 0, $seal => 1, $capture => 1, $under => 1, $log => -1, $named => -1, $far => 2,
        ], $columns, 'The item about the capture is not drawn besides it; what is three steps far is not; what is hidden is not.');
        self::assertNotContains($hidden, array_map(static fn (Tie $tie): string => $tie->from, $ties));
        // Around the item about the capture, what leads to the capture leads to it.
        $item = self::service(ItemRepository::class)->byCode(Viewer::system(), $about);
        self::assertNotNull($item);
        [$knots] = self::service(Ties::class)->around(Viewer::person('Ilse Varga', Role::Keeper), $item);
        self::assertContains([$middle, -1], array_map(static fn (Knot $knot): array => [$knot->code, $knot->column], $knots));
        $this->signIn('Ilse Varga', Role::Keeper);
        $body = $this->get('/items/'.$middle.'/ties');
        self::assertStringContainsString('Middle &lt;b&gt;', $body);
        self::assertStringNotContainsString('Of somebody else', $body);
        self::assertStringContainsString('look there', $body);
        self::assertStringContainsString('Nothing leads here', $this->get('/items/'.$this->make(['title' => 'Alone']).'/ties'));
    }

    public function testMoreThanCanBeReadIsSaid(): void
    {
        $middle = $this->make(['title' => 'Middle']);
        for ($n = 0; $n < Ties::MOST + 5; ++$n) {
            $this->make(['title' => 'Under '.$n, 'parent' => $middle]);
        }
        $item = self::service(ItemRepository::class)->byCode(Viewer::system(), $middle);
        self::assertNotNull($item);
        [$knots, , $isMore] = self::service(Ties::class)->around(Viewer::person('Ilse Varga', Role::Keeper), $item);
        self::assertTrue($isMore);
        self::assertCount(Ties::MOST, $knots);
    }

    /** @param array<string, mixed> $values */
    private function make(array $values): string
    {
        return self::text($this->ask('POST', '/api/items', $this->keeper, $values + ['kind' => 'note'], 201), 'code');
    }

    private function link(string $from, string $to, ?string $remark = null): void
    {
        $this->ask('POST', '/api/items/'.$from.'/links', $this->keeper, ['to' => $to] + (null === $remark ? [] : ['remark' => $remark]),
            201);
    }
}
