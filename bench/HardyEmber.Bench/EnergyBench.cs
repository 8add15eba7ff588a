using HardyEmber.Testing;

namespace HardyEmber.Bench;

/// <summary>What each type's battery and generators are asked for: the numbers that its file is tuned by.</summary>
internal static class EnergyBench
{
    public static void Run(string? only)
    {
        foreach (var id in Repository.Fleet.Aircraft.Select(a => a.Id).Where(id => only is null || id == only))
        {
            foreach (var oatC in (double[])[15, -30])
            {
                var e = EnergyOf.Fly(id, oatC);
                Console.WriteLine($"{id,-8} {oatC,4:0} °C: {e.FirstPowerW,6:0} W before the first start at {e.FirstPowerAtS,4:0} s, "
                    + $"full battery {e.LastsS / 60,5:0.0} min, attempts {e.Attempts:0}; "
                    + $"generator alone {e.MostAlone:P0}, shared {e.MostShared:P0}, everything {e.EverythingOn:P0}");
                if (only is not null)
                {
                    Console.WriteLine("  " + string.Join(", ", e.FirstLoads.Select(l => $"{l.Id} {l.Watts:0}")));
                    Console.WriteLine("  alone: " + string.Join(", ", e.AloneLoads.Select(l => $"{l.Id} {l.Watts:0}")));
                    Console.WriteLine("  all: " + string.Join(", ", e.Machine.Loads.Select(l => $"{l.Id} {l.Watts:0} ({l.Bus}{(l.Powered ? "" : ", off")})")));
                }
            }
        }
    }
}
