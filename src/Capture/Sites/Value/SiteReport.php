<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites\Value;

use Ypomna\App\Capture\Entity\Crawl;
use Ypomna\App\Capture\Sites\Crawls;
use Ypomna\App\Shared\CsvLine;
use Ypomna\App\Shared\Viewer;

/** What came of keeping a site, page by page, however many there are. */
final readonly class SiteReport
{
    private const AT_ONCE = 1_000;

    public function __construct(private Crawls $crawls, private Crawl $crawl)
    {
    }

    /**
     * @return \Generator<int, string>
     */
    public function csv(Viewer $viewer): \Generator
    {
        yield CsvLine::of(['address', 'state', 'reason', 'status', 'verdict', 'depth', 'via', 'from', 'capture']);
        foreach ($this->pages($viewer) as $page) {
            yield CsvLine::of([
                $page['url'], $page['state'], $page['reason'] ?? '', (string) ($page['status'] ?? ''), $page['verdict'] ?? '',
                (string) $page['depth'], $page['via'], $page['from'] ?? '', $page['capture'] ?? '',
            ]);
        }
    }

    /**
     * @return \Generator<int, string>
     */
    public function json(Viewer $viewer): \Generator
    {
        $crawl = $this->crawl;
        $head = [
            'site' => $crawl->code, 'name' => $crawl->name, 'seeds' => $crawl->seeds, 'scope' => $crawl->scope, 'how' => $crawl->how->value,
            'robots' => $crawl->overruled ?? 'obey', 'agent' => $crawl->agent,
            'begun' => $crawl->madeAt->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s\Z'),
            'finished' => $crawl->finishedAt?->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s\Z'),
            'state' => $crawl->state->value, 'ended' => $crawl->ended,
            'budget' => ['pages' => $crawl->mostPages, 'bytes' => $crawl->mostBytes, 'seconds' => $crawl->mostSeconds],
            'seconds' => $this->crawls->ran($crawl), 'bytes' => $crawl->bytes, 'parts' => $crawl->parts, 'heldAlready' => $crawl->again,
            'linksElsewhere' => $crawl->outside,
            'counts' => $this->crawls->counts($viewer, $crawl), 'reasons' => $this->crawls->reasons($crawl),
            'traps' => $this->crawls->traps($crawl),
            'files' => $this->crawls->files($crawl),
        ];
        yield substr(
            (string) json_encode(
                $head, \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
            ),
            0,
            -2,
        )
            .",\n    \"pages\": [";
        $first = true;
        foreach ($this->pages($viewer) as $page) {
            yield ($first ? "\n" : ",\n").'        '
                .json_encode(
                    array_diff_key($page, ['id' => 0]), \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
                );
            $first = false;
        }
        yield "\n    ]\n}\n";
    }

    /**
     * @return \Generator<int, array{
     *     id: int, url: string, depth: int, via: string, state: string, reason: string|null, message: string|null, status: int|null,
     *     verdict: string|null, capture: string|null, from: string|null,
     * }>
     */
    private function pages(Viewer $viewer): \Generator
    {
        $after = 0;
        do {
            $pages = $this->crawls->pages($viewer, $this->crawl, '', $after, self::AT_ONCE);
            foreach ($pages as $page) {
                yield $page;
                $after = $page['id'];
            }
        } while (self::AT_ONCE === \count($pages));
    }
}
