<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\Persistence\ManagerRegistry;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\Core\Compare\ComparisonReport;
use Ypomna\Core\Compare\Noise\Patience;
use Ypomna\Core\Compare\PageComparison;
use Ypomna\Core\Warc\WarcError;

/** Measures how much a capture differs from the one before it: the thickness of its layer in the column. */
final readonly class ChangeMeter
{
    public function __construct(private ManagerRegistry $registry, private CaptureContent $content, private Comparisons $comparisons)
    {
    }

    /** Measures that capture and the one behind it, whose predecessor it may have become. */
    public function measure(int $captureId, Patience $patience = new Patience()): void
    {
        $capture = $this->manager()->find(Capture::class, $captureId);
        if (null === $capture) {
            return;
        }
        $before = $this->neighbour($capture, '<', 'DESC');
        $after = $this->neighbour($capture, '>', 'ASC');
        $this->store($capture, $before, $patience);
        if (null !== $after) {
            $this->store($after, $capture, $patience);
        }
    }

    private function store(Capture $capture, ?Capture $before, Patience $patience): void
    {
        $this->connection()->update('capture', ['changed' => null === $before ? null : $this->difference($before, $capture, $patience)], ['id' => $capture->id]);
    }

    /** Share of the text that differs, 0 to 1, noise aside; null where one of them cannot be read. */
    public function difference(Capture $before, Capture $after, Patience $patience = new Patience()): ?float
    {
        if ($before->isAlive() !== $after->isAlive()) {
            return 1.0;
        }
        if (null !== $after->payloadSha256 && $before->payloadSha256 === $after->payloadSha256 && null === $after->domOffset) {
            return 0.0;
        }
        try {
            return round($this->share($before, $after, $patience), 6);
        } catch (WarcError) {
            return null;
        }
    }

    private function share(Capture $before, Capture $after, Patience $patience): float
    {
        $old = $this->content->document($before);
        $new = $this->content->document($after);

        return (new ComparisonReport(PageComparison::of($old, $new), $old, $new, $this->comparisons->weighing($after->address, $patience)))->changedShare();
    }

    private function neighbour(Capture $capture, string $direction, string $order): ?Capture
    {
        $query = $this->manager()->createQuery(\sprintf(
            'SELECT c, f FROM %s c JOIN c.warcFile f WHERE c.address = :address AND (c.capturedAt %s :at OR (c.capturedAt = :at AND c.id %s :id)) ORDER BY c.capturedAt %s, c.id %s',
            Capture::class, $direction, $direction, $order, $order,
        ));
        $found = $query->setParameter('address', $capture->address)->setParameter('at', $capture->capturedAt, 'moment')->setParameter('id', $capture->id)->setMaxResults(1)->getOneOrNullResult();

        return $found instanceof Capture ? $found : null;
    }

    private function manager(): EntityManagerInterface
    {
        $manager = $this->registry->getManager();
        \assert($manager instanceof EntityManagerInterface);

        return $manager;
    }

    private function connection(): Connection
    {
        return $this->manager()->getConnection();
    }
}
