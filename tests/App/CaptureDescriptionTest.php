<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use PHPUnit\Framework\Attributes\TestWith;
use Ypomna\App\Capture\CaptureDescriptions;
use Ypomna\App\Capture\CaptureForm;
use Ypomna\App\Capture\CaptureRequests;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\InvalidRequest;
use Ypomna\App\Capture\RememberedChoices;
use Ypomna\App\Capture\Value\CaptureDescription;
use Ypomna\App\Network\CaptureOptions;
use Ypomna\App\Network\Extent;
use Ypomna\App\Shared\Actor;
use Ypomna\Tests\Support\WarcBuilder;

/** What is said and chosen in the same step as a capture. */
final class CaptureDescriptionTest extends AppTestCase
{
    public function testWhatIsWrittenBesideAJobGoesWithItsCapture(): void
    {
        $this->takeIn((new WarcBuilder())->exchange('http://lantern.test/a', '2024-11-03T10:00:00Z', '<title>A page</title><p>x'));
        $capture = $this->captureOf('http://lantern.test/a');
        $job = self::service(CaptureRequests::class)->ask(new Actor('Tomas Okoye'), 'http://lantern.test/a');
        $page = $this->get('/captures/'.$job->code);
        self::assertStringContainsString('Captured once before', $page);
        self::assertStringContainsString('on <time', $page);
        $this->write($job, ['title' => ' The <b>seal</b> ', 'why' => "It was\nreworded", 'tags' => 'Stern door, notices,, stern DOOR ,x']);
        self::assertSame(303, $this->answered());
        $desk = self::service(CaptureDescriptions::class);
        self::assertEquals(
            new CaptureDescription('The <b>seal</b>', "It was\nreworded", ['notices', 'Stern door', 'x'], 'Tomas Okoye'),
            $desk->ofJob($job),
        );
        self::assertSame([], $desk->ofCaptures([$capture->code]));
        $desk->hand((int) $job->id, $capture->code);
        self::assertSame(
            ['Stern door', 'notices', 'x'],
            array_values(array_intersect(['Stern door', 'notices', 'x'], $desk->ofCaptures([$capture->code])[$capture->code]->tags)),
        );
        $address = $this->get('/address/'.$capture->address->code);
        self::assertStringContainsString('The &lt;b&gt;seal&lt;/b&gt;', $address);
        self::assertStringContainsString('/tagged/notices', $address);
        self::assertStringContainsString('The &lt;b&gt;seal&lt;/b&gt;', $this->get('/tagged/stern%20door'));
        self::assertStringContainsString('No capture has this tag', $this->get('/tagged/nobody'));
        // Written again, it is as it was written last, and the tags that were used are offered.
        $this->write($job, ['title' => '', 'why' => '', 'tags' => 'x']);
        self::assertSame(['x'], $desk->ofJob($job)->tags);
        self::assertStringContainsString('<option value="notices">', $this->get('/captures/'.$job->code));
        $this->client->request('POST', '/captures/'.$job->code.'/description', ['title' => 'forged']);
        self::assertSame(403, $this->answered());
    }

    public function testHowOneWantedItLastIsOfferedAgainButNoSecrets(): void
    {
        $token = $this->token();
        $this->client->request(
            'POST',
            '/captures',
            [
                '_token' => $token,
                'q' => 'lantern.test/b',
                'chosen' => '1',
                'extent' => 'text',
                'how' => 'plain',
                'language' => 'el',
                'cookies' => "lantern.test\tFALSE\t/\tFALSE\t0\tsid\tsecret-value",
                'fields' => 'X-Try: 1',
            ],
        );
        self::assertSame(303, $this->answered());
        self::assertSame(
            ['how' => 'plain', 'extent' => 'text', 'language' => 'el'],
            self::service(RememberedChoices::class)->last(new Actor('Tomas Okoye')),
        );
        $first = $this->get('/');
        self::assertStringContainsString('as you chose last', $first);
        self::assertMatchesRegularExpression('/value="text" checked/', $first);
        self::assertStringNotContainsString('secret-value', $first);
        $job = self::service(
            \Doctrine\ORM\EntityManagerInterface::class,
        )->getRepository(CaptureJob::class)->findOneBy(['url' => 'http://lantern.test/b']);
        self::assertInstanceOf(CaptureJob::class, $job);
        $order = $job->options();
        self::assertSame(
            [false, Extent::Text, 'el', ['X-Try' => '1'], 'secret-value', true],
            [$order->rendered, $order->extent, $order->language, $order->fields, $order->cookies[0]->value, $order->isSecret()],
        );
        self::assertStringNotContainsString('X-Try', (string) json_encode($job->options), 'What may sign somebody in goes with the job.');
        // A page that is asked for elsewhere is kept as usual.
        $this->client->request('POST', '/captures', ['_token' => $token, 'q' => 'lantern.test/c']);
        self::assertSame('text', self::service(RememberedChoices::class)->last(new Actor('Tomas Okoye'))['extent'] ?? '');
        self::assertNull(self::service(Connection::class)->fetchOne("SELECT options FROM capture_job WHERE url = 'http://lantern.test/c'"));
    }

    /** @param array<string, string> $form */
    #[TestWith([['extent' => 'part'], 'Say which part'])]
    #[TestWith([['wait' => '61'], '60 at most'])]
    #[TestWith([['wait' => '-1'], '60 at most'])]
    #[TestWith([['language' => "el\r\nX: y"], 'A language is written'])]
    #[TestWith([['fields' => "X-Try: 1\nnonsense"], 'Line 2'])]
    #[TestWith([['fields' => 'Host: elsewhere.test'], 'cannot be set'])]
    #[TestWith([['cookies' => 'no columns'], 'Line 1 is not a cookie'])]
    public function testWhatCannotBeIsNamed(array $form, string $why): void
    {
        $this->client->request('POST', '/captures', $form + ['_token' => $this->token(), 'q' => 'lantern.test/"<i>', 'chosen' => '1']);
        self::assertSame(422, $this->answered());
        self::assertStringContainsString($why, $this->body());
        self::assertStringContainsString('value="lantern.test/&quot;&lt;i&gt;"', $this->body(), 'What was typed is still there.');
        $this->expectException(InvalidRequest::class);
        CaptureForm::read($form);
    }

    public function testAPartWantsABrowserAndAnAddressNone(): void
    {
        self::assertTrue(CaptureForm::read(['extent' => 'part', 'part' => 'the seal', 'how' => 'plain'])->rendered);
        self::assertFalse(CaptureForm::read(['extent' => 'address'])->rendered);
        self::assertSame([], (new CaptureOptions())->toArray());
        self::assertSame(
            ['scroll' => false, 'wait' => 3.0, 'extent' => 'part', 'part' => 'x'],
            CaptureForm::read(['extent' => 'part', 'part' => ' x ', 'wait' => '3'])->toArray(),
        );
    }

    public function testOptionsComeBackFromTheJobAsTheyWere(): void
    {
        $form = [
            'extent' => 'text', 'how' => 'plain', 'phone' => '1', 'without_scripts' => '1', 'without_scrolling' => '1', 'wait' => '7',
            'language' => 'el, en;q=0.5', 'agent' => 'Reader', 'fields' => "X-Try: 1\nAuthorization: x", 'fields_everywhere' => '1',
            'cookies' => ".lantern.test\tTRUE\t/a\tTRUE\t0\tsid\tä v",
        ];
        $options = CaptureForm::read($form);
        $stored = json_decode(json_encode($options->toArray(), \JSON_THROW_ON_ERROR), true);
        self::assertIsArray($stored);
        self::assertEquals($options, CaptureOptions::ofArray($stored, $options->secretsToText()));
        self::assertStringNotContainsString('sid', (string) json_encode($stored));
        self::assertEquals(
            new CaptureOptions(),
            CaptureOptions::ofArray(['wait' => [], 'extent' => 3, 'scroll' => 'no', 'language' => '']),
            'What cannot be is as usual.',
        );
    }

    /** @param array<string, string> $fields */
    private function write(CaptureJob $job, array $fields): void
    {
        $page = $this->get('/captures/'.$job->code);
        self::assertSame(1, preg_match('/class="description">\s*<input type="hidden" name="_token" value="([^"]+)"/', $page, $m));
        $this->client->request('POST', '/captures/'.$job->code.'/description', $fields + ['_token' => $m[1]]);
    }

    private function token(): string
    {
        self::assertSame(1, preg_match('/name="_token" value="([^"]+)"/', $this->get('/'), $m));

        return $m[1];
    }
}
