<?php

declare(strict_types=1);

namespace Ypomna\App\Archives;

use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Ypomna\App\Archives\Entity\OtherArchive;
use Ypomna\App\Archives\Message\FetchMemento;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Exchange\Message\ImportFile;
use Ypomna\App\Network\Concurrently;
use Ypomna\App\Network\WebAccess;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Explanation;
use Ypomna\App\Shared\Queue\AbandonedMessage;
use Ypomna\App\Shared\Software;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\Answer;
use Ypomna\Core\Fetch\Ask;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\Limits;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Http\HttpDate;
use Ypomna\Core\Page\Requisites;
use Ypomna\Core\Warc\Block;
use Ypomna\Core\Warc\ResourceFile;

/**
 * Fetches a capture from another archive, with the parts that the page asks for, as that archive holds them; writes a WARC
 * file of it, which is taken in like anybody's. Nothing of it is said to be ours.
 */
final readonly class FetchMementoHandler
{
    private const SECONDS = 60;
    private const MAX_BYTES = 67_108_864;
    private const MAX_DOCUMENT = 8_388_608;
    private const PARTS = 150;

    public function __construct(
        private OtherArchives $archives,
        private Arrivals $arrivals,
        private WebAccess $web,
        private ClockInterface $clock,
        private LoggerInterface $logger,
        private DataFolder $folder,
    ) {
    }

    #[AsEventListener]
    public function givenUp(AbandonedMessage $event): void
    {
        $arrival = $event->message instanceof FetchMemento ? $this->arrivals->byId($event->message->arrivalId) : null;
        if (null !== $arrival && !$arrival->state->isFinal()) {
            $this->arrivals->refuse($arrival, AbandonedMessage::why());
        }
    }

    #[AsMessageHandler]
    public function handle(FetchMemento $message): void
    {
        $arrival = $this->arrivals->byId($message->arrivalId);
        if (null === $arrival || $arrival->state->isFinal()) {
            return;
        }
        $errands = new ArchiveRequests($this->web, $this->clock, $this->folder->newWork('import'));
        try {
            $archive = $this->archives->byCode($message->archive)
                ?? throw new FetchFailed(FailureReason::BadResponse, 'This archive is no longer known here.');
            @unlink($this->arrivals->place($arrival));
            $this->write($this->arrivals->place($arrival), $archive, Url::parse($message->url), Url::parse($message->memento), $errands);
        } catch (FetchFailed $e) {
            $this->arrivals->refuse($arrival, Explanation::words($e->getMessage()));

            return;
        } catch (\RuntimeException $e) {
            $this->logger->error('A capture could not be fetched from another archive.', ['exception' => $e]);
            $this->arrivals->refuse($arrival, Explanation::unexpected());

            return;
        } finally {
            $errands->clean();
        }
        $this->arrivals->handle(new ImportFile($message->arrivalId));
    }

    /**
     * @throws FetchFailed
     */
    private function write(string $path, OtherArchive $archive, Url $url, Url $memento, ArchiveRequests $errands): void
    {
        $ask = $errands->ask(new Limits(
            maxSeconds: self::SECONDS, maxBytes: self::MAX_BYTES, maxExchanges: 6 * self::PARTS, idleSeconds: 20,
        ));
        $answer = Concurrently::run([static fn (): Answer => $ask->get($memento)], 30.0)[0];
        if ($answer instanceof FetchFailed) {
            throw $answer;
        }
        $at = self::momentOf($answer)
            ?? throw new FetchFailed(
                FailureReason::BadResponse, \sprintf('%s does not say of which moment its copy is, so it is not imported.', $archive->name),
            );
        if (200 !== $answer->head->status) {
            throw new FetchFailed(
                FailureReason::BadResponse,
                \sprintf(
                    'What %s holds of that moment is an answer with status %d; there is no page to import.',
                    $archive->name,
                    $answer->head->status ?? 0,
                ),
            );
        }
        $out = @fopen($path, 'x');
        if (false === $out) {
            throw new \RuntimeException('The file cannot be made.');
        }
        $source = (string) hash_file('sha256', $answer->exchange->responsePath);
        $file = new ResourceFile($out, hash('sha256', $source.' '.$memento), $at, Software::NAME, [
            'name' => $archive->name, 'kind' => 'memento', 'memento' => (string) $answer->url, 'asked' => (string) $memento,
            'answerSha256' => $source, 'link' => implode(', ', $answer->head->fields->all('Link')),
        ], $archive->name, 'other-archive');
        $type = $answer->head->fields->get('Content-Type') ?? 'application/octet-stream';
        $work = $path.'.part';
        $page = $file->resource((string) $url, $type, self::block($answer, $work));
        foreach ($this->parts($answer, $type, $archive, $url, $at, $ask) as $part => $got) {
            $file->resource(
                $part,
                $got->head->fields->get('Content-Type') ?? 'application/octet-stream',
                self::block($got, $work),
                self::momentOf($got) ?? $at,
            );
        }
        @unlink($work);
        $file->page($page, (string) $url, '');
        if (!fflush($out) || !fclose($out)) {
            throw new \RuntimeException('The file cannot be written.');
        }
    }

    /**
     * What the page asks for: by the archive's own address where the page was rewritten to lead there, else of the same
     * moment through its TimeGate.
     *
     * @return array<string, Answer> by the address that the page gives
     */
    private function parts(Answer $page, string $type, OtherArchive $archive, Url $url, \DateTimeImmutable $at, Ask $ask): array
    {
        if (1 !== preg_match('#html#i', $type)) {
            return [];
        }
        $bytes = $page->text(self::MAX_DOCUMENT);
        [$base, $wanted] = Requisites::of(Charset::text($bytes, $type));
        $base = (null === $base ? null : Url::tryParse($base, $url)) ?? $url;
        $tasks = [];
        foreach ($wanted as $any) {
            $part = Url::tryParse($any[0], $base)?->withoutFragment();
            if (null === $part || !$part->isWeb() || \count($tasks) >= self::PARTS) {
                continue;
            }
            $own = $part->host === $page->url->host && $part->host !== $url->host;
            if ($own || '' !== $archive->timeGate) {
                $tasks[(string) $part] = static fn (): Answer => $own
                    ? $ask->get($part)
                    : $ask->get(OtherArchives::asking($archive->timeGate, $part), ['Accept-Datetime' => HttpDate::write($at)]);
            }
        }

        $found = [];
        foreach (Concurrently::run($tasks, (float) self::SECONDS, 4) as $address => $got) {
            if ($got instanceof Answer && 200 === $got->head->status) {
                $found[(string) $address] = $got;
            }
        }

        return $found;
    }

    private static function momentOf(Answer $answer): ?\DateTimeImmutable
    {
        return HttpDate::parse($answer->head->fields->get('Memento-Datetime') ?? '');
    }

    private static function block(Answer $answer, string $path): Block
    {
        $out = fopen($path, 'w');
        foreach ($answer->body() as $piece) {
            if (false === $out || fwrite($out, $piece) !== \strlen($piece)) {
                throw new \RuntimeException('The disk took no more.');
            }
        }
        if (false !== $out) {
            fclose($out);
        }

        clearstatcache(true, $path);

        return Block::ofFile($path);
    }
}
