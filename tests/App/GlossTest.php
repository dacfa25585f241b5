<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Desk\CaptureItems;
use Ypomna\App\Desk\Dossiers;
use Ypomna\App\Desk\Glosses;
use Ypomna\App\Desk\Value\DossierChange;
use Ypomna\App\Desk\Value\Gloss;
use Ypomna\App\Desk\Value\Opening;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

/** Notes beside the page, on the capture that they were written on and on others. */
final class GlossTest extends AppTestCase
{
    private const PAGE = 'http://lantern.test/a';
    private const OLD = '<title>Held</title><h1>Notice</h1><p>The door was inspected by Edda Marlow. Nobody was hurt. Tickets are'
        .' refunded.';

    public function testAGlossFollowsItsPassageToOtherCapturesOrSaysWhatBecameOfIt(): void
    {
        $this->takeIn((new WarcBuilder('f'))
            ->exchange(self::PAGE, '2024-11-03T10:00:00Z', self::OLD)
            ->exchange(self::PAGE, '2024-12-03T10:00:00Z', str_replace('by Edda Marlow', 'by our safety department', self::OLD))
            ->exchange(self::PAGE, '2025-01-03T10:00:00Z', str_replace(' Nobody was hurt.', '', self::OLD)));
        [$first, $second, $third] = array_map(
            fn (string $month): mixed => $this->captureOf(self::PAGE, $month.'-10'), ['2024-11', '2024-12', '2025-01'],
        );
        $actor = new Actor('Ilse Varga');
        $this->person('Ilse Varga', Role::Keeper);
        $viewer = Viewer::person('Ilse Varga', Role::Keeper);
        $dossier = self::service(Dossiers::class)->make($actor, new DossierChange('Doors', open: Opening::All));
        self::service(CaptureItems::class)->lay($actor, $dossier, $first->code);
        $glosses = self::service(Glosses::class);
        $glosses->write($actor, $viewer, $first, ['exact' => 'Nobody was hurt.', 'prefix' => 'Marlow. '], 'Who says so?');
        $glosses->write($actor, $viewer, $first, ['exact' => 'Edda Marlow', 'prefix' => 'by '], 'She *signed* <script>x</script>');
        self::assertSame(
            [['Edda Marlow', 'same', 'Edda Marlow', false], ['Nobody was hurt.', 'same', 'Nobody was hurt.', false]],
            self::told($glosses->of($viewer, $first)),
        );
        self::assertSame(
            [['Edda Marlow', 'reworded', 'our safety department', true], ['Nobody was hurt.', 'same', 'Nobody was hurt.', true]],
            self::told($glosses->of($viewer, $second)),
        );
        self::assertSame(
            [['Edda Marlow', 'same', 'Edda Marlow', true], ['Nobody was hurt.', 'gone', '', true]],
            self::told($glosses->of($viewer, $third)),
        );
        // It lies under the capture's item, so whoever sees that sees it; of a capture that they do not see, nobody sees one.
        $reader = Viewer::person('Nerys Quill', Role::Reader);
        self::assertCount(2, $glosses->of($reader, $second));
        self::service(CaptureLimits::class)->say($actor, $first, true);
        self::assertSame([], $glosses->of($reader, $second));
        $this->signIn('Tomas Okoye', Role::Custodian);
        $body = $this->get('/c/'.$first->code.'/glosses');
        self::assertStringContainsString('She <em>signed</em> &lt;script&gt;', $body);
        self::assertStringContainsString('Ilse Varga', $body);
        $this->signIn('Nerys Quill', Role::Reader);
        $this->get('/c/'.$first->code.'/glosses');
        self::assertSame(404, $this->answered());
    }

    /**
     * @param list<Gloss> $all
     *
     * @return list<array{string, string|null, string, bool}>
     */
    private static function told(array $all): array
    {
        return array_map(static fn (Gloss $one): array => [
            $one->link->passage['exact'] ?? '', $one->placed->place?->value, $one->text(), null !== $one->from,
        ], $all);
    }

    public function testAGlossIsWrittenFromTheReadingWindow(): void
    {
        $this->takeIn((new WarcBuilder('f'))->exchange(self::PAGE, '2024-11-03T10:00:00Z', self::OLD));
        $capture = $this->captureOf(self::PAGE);
        $this->signIn('Ilse Varga', Role::Keeper);
        $this->get('/c/'.$capture->code);
        $token = $this->client->getCrawler()->filter('#gloss-form [name=_token]')->attr('value');
        $path = '/c/'.$capture->code.'/glosses';
        $this->client->request('POST', $path, ['exact' => 'Nobody was hurt.', 'note' => 'x']);
        self::assertSame(403, $this->answered());
        $this->client->request('POST', $path, ['_token' => $token, 'exact' => 'Nobody was hurt.', 'note' => 'Who says so?']);
        self::assertSame(303, $this->answered());
        self::assertStringContainsString('Who says so?', $this->get($path));
        $this->client->request('POST', $path, ['_token' => $token, 'exact' => '', 'note' => 'nothing']);
        self::assertStringNotContainsString('nothing', $this->get($path));
    }
}
