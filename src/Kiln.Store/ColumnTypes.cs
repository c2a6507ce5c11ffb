using System.Data;
using System.Text.Json;
using Dapper;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Looks.Overrides;
using Kiln.Pixels;
using NpgsqlTypes;

namespace Kiln.Store;

/// <summary>How the seams' types are columns: ids as uuid, hashes as text, lists of ids as uuid[], overrides as jsonb.</summary>
internal static class ColumnTypes
{
    /// <summary>Once a process; every kind of id that <see cref="Ids"/> holds.</summary>
    public static void Register()
    {
        SqlMapper.AddTypeHandler(new HashColumn());
        SqlMapper.AddTypeHandler(new OverrideColumn());
        foreach (var id in typeof(LookId).Assembly.GetTypes().Where(Ids.IsId))
        {
            SqlMapper.AddTypeHandler(id, Handler(typeof(IdColumn<>), id));
            SqlMapper.AddTypeHandler(id.MakeArrayType(), Handler(typeof(IdsColumn<>), id));
        }
    }

    private static SqlMapper.ITypeHandler Handler(Type handler, Type id) =>
        (SqlMapper.ITypeHandler)Activator.CreateInstance(handler.MakeGenericType(id))!;

    private sealed class HashColumn : SqlMapper.TypeHandler<ContentHash>
    {
        public override ContentHash Parse(object value) => ContentHash.Parse((string)value);

        public override void SetValue(IDbDataParameter parameter, ContentHash value) => parameter.Value = value.ToString();
    }

    private sealed class OverrideColumn : SqlMapper.TypeHandler<PartOverride>
    {
        public override PartOverride Parse(object value) =>
            JsonSerializer.Deserialize<PartOverride>((string)value, LookJson.Options) ?? PartOverride.None;

        public override void SetValue(IDbDataParameter parameter, PartOverride? value)
        {
            parameter.Value = JsonSerializer.Serialize(value ?? PartOverride.None, LookJson.Options);
            ((Npgsql.NpgsqlParameter)parameter).NpgsqlDbType = NpgsqlDbType.Jsonb;
        }
    }

    private sealed class IdColumn<T> : SqlMapper.TypeHandler<T>
        where T : struct, IVogen<T, Guid>
    {
        public override T Parse(object value) => T.From((Guid)value);

        public override void SetValue(IDbDataParameter parameter, T value) => parameter.Value = value.Value;
    }

    private sealed class IdsColumn<T> : SqlMapper.TypeHandler<T[]>
        where T : struct, IVogen<T, Guid>
    {
        public override T[] Parse(object value) => [.. ((Guid[])value).Select(T.From)];

        public override void SetValue(IDbDataParameter parameter, T[]? value)
        {
            parameter.Value = value?.Select(id => id.Value).ToArray() ?? (object)DBNull.Value;
            ((Npgsql.NpgsqlParameter)parameter).NpgsqlDbType = NpgsqlDbType.Array | NpgsqlDbType.Uuid;
        }
    }
}
