<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Catalogue\Event\CapturesLimited;
use Ypomna\App\Catalogue\FileRepository;

/** What this room has of captures is seen as they are: jobs, what was written beside them, the pages of sites, parts fetched later. */
#[AsEventListener]
final readonly class LimitedCaptures
{
    public function __construct(
        private Connection $database,
        private EntityManagerInterface $entities,
        private CaptureMaintenance $captures,
        private CaptureLimits $limits,
        private FileRepository $files,
    ) {
    }

    public function __invoke(CapturesLimited $event): void
    {
        foreach (['capture_job', 'capture_description'] as $table) {
            $this->database->executeStatement(
                "UPDATE {$table} SET limited = ? WHERE capture_code IN (?)", [(int) $event->limited, $event->codes],
                [1 => ArrayParameterType::STRING],
            );
        }
        foreach ($this->captures->places($event->codes) as [$file, $offset]) {
            // Of a site that is limited as a whole, whoever sees it sees its pages.
            $this->database->executeStatement(
                <<<'SQL'
                    UPDATE crawl_segment s JOIN crawl_page p ON p.segment_id = s.id JOIN crawl c ON c.id = s.crawl_id
                    SET p.limited = ? WHERE s.file_id = ? AND p.at_offset = ? AND c.limited = 0
                    SQL,
                [(int) $event->limited, $file, $offset],
            );
        }
        $completing = $this->entities->createQuery('SELECT j FROM '.CaptureJob::class.' j WHERE j.missingOf IN (:codes)')
            ->setParameter('codes', $event->codes)->getResult();
        foreach (\is_array($completing) ? $completing : [] as $job) {
            $file = $job instanceof CaptureJob ? $this->files->idOf($job->path()) : null;
            if (null !== $file) {
                $this->limits->partsFile($file, $event->limited ? $job->missingOf : null);
            }
        }
    }
}
